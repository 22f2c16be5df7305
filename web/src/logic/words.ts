/** The sentences of the screens that are made of parts: counts, plurals, verdicts, states, dates. */

/** "1 page", "3 pages". */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number.toLocaleString("en-GB")} ${number === 1 ? one : many}`;
}

const SMALL = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"];

/** Small numbers as words, larger ones as figures. */
export const spelled = (number: number): string => SMALL[number] ?? number.toLocaleString("en-GB");

/** The first letter large. */
export const sentenceCase = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** "820 bytes", "14 kB", "2.3 MB", "5 GB". */
export function sizeText(bytes: number): string {
  if (bytes < 1000) return count(bytes, "byte");
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  if (bytes < 1_000_000_000) return `${(bytes / 1_000_000).toFixed(bytes < 100_000_000 ? 1 : 0)} MB`;
  return `${(bytes / 1_000_000_000).toFixed(1).replace(".0", "")} GB`;
}

/** A ratio cut, never rounded up, to what a person can use: 2.81, 11.1, 21. */
export function ratioText(ratio: number | null): string {
  if (ratio === null) return "?";
  const places = ratio >= 10 ? 1 : 2;
  return String(Math.floor(ratio * 10 ** places + 1e-9) / 10 ** places);
}

const SHORT_DATE = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long" });
const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** "today, 16:20", "yesterday", "3 November". */
export function dateText(iso: string, now = new Date()): string {
  const date = new Date(iso);
  const days = Math.round((startOfDay(now) - startOfDay(date)) / 86_400_000);
  if (days === 0) return `today, ${TIME.format(date)}`;
  if (days === 1) return `yesterday, ${TIME.format(date)}`;
  return SHORT_DATE.format(date) + (date.getFullYear() === now.getFullYear() ? "" : ` ${date.getFullYear()}`);
}

/** "today at 16:20", "tomorrow at 09:00", "3 December at 09:00". */
export function dueText(iso: string, now = new Date()): string {
  const date = new Date(iso);
  const days = Math.round((startOfDay(date) - startOfDay(now)) / 86_400_000);
  const day = days === 0 ? "today" : days === 1 ? "tomorrow" : SHORT_DATE.format(date);
  return `${day} at ${TIME.format(date)}`;
}

/** How long: "40 seconds", "12 minutes", "3 hours", "2 days". */
export function agoText(seconds: number): string {
  const [size, name] =
    seconds < 90
      ? [1, "second"]
      : seconds < 5400
        ? [60, "minute"]
        : seconds < 172_800
          ? [3600, "hour"]
          : [86_400, "day"];
  return count(Math.round(seconds / (size as number)), name as string);
}

function startOfDay(date: Date): number {
  return new Date(date.getFullYear(), date.getMonth(), date.getDate()).getTime();
}

/** What each state is called on its own. */
export const STATE_LABELS: Record<string, string> = {
  rest: "Rest",
  hover: "Hover",
  focus: "Focus",
  active: "Pressed",
  visited: "Visited",
  current: "Current page",
  disabled: "Disabled",
};

const OPENED = "opened: ";
/** What a state is called in a table: "Hover", "Opened: Menu". */
export const stateLabel = (state: string): string => STATE_LABELS[state] ?? sentenceCase(state);

/** The state and what is opened, of one that a text is told to be in: {"rest", "Menu"} of "opened: Menu". */
export const placeOfState = (state: string, opened = "") =>
  state.startsWith(OPENED) ? { state: "rest", opened: state.slice(OPENED.length) } : { state, opened };

const WHEN: Record<string, string> = {
  rest: "at rest",
  hover: "when hovered",
  focus: "when focused",
  active: "when pressed",
  visited: "when visited",
};

const whenOpened = (state: string): string =>
  state.startsWith(OPENED) ? `with “${state.slice(OPENED.length)}” opened` : state;

/** In which states something shows, unless it shows at rest too: "only when hovered or when focused". */
export function statesText(states: string[]): string {
  if (states.includes("rest")) return "";
  // what is only there once something is opened is hovered there too
  const opened = states.filter((state) => state.startsWith(OPENED));
  return `only ${(opened.length ? opened : states).map((state) => WHEN[state] ?? whenOpened(state)).join(" or ")}`;
}

/** What is hard to read: "5 texts of 283 are hard to read", or that nothing is. */
export function readabilityText(hard: number, all: number): string {
  if (!hard) return "nothing is hard to read";
  return `${count(hard, "text")} of ${all.toLocaleString("en-GB")} ${hard === 1 ? "is" : "are"} hard to read`;
}

/** On which screens something shows, unless it shows on a wide one too: "only on a phone". */
export function screensText(widths: number[]): string {
  if (!widths.length || Math.max(...widths) >= 1000) return "";
  return Math.max(...widths) >= 600 ? "only on a tablet or phone" : "only on a phone";
}

/** Where a finding shows beside its sample: "31 texts on 4 pages, only when hovered"; "" for that one alone. */
export function whereText(one: { places: number; pages: string[]; states: string[]; widths: number[] }): string {
  const { length } = one.pages;
  const more = one.places > 1 ? count(one.places, "text") + (length > 1 ? ` on ${count(length, "page")}` : "") : "";
  return [more, screensText(one.widths), statesText(one.states)].filter(Boolean).join(", ");
}

/** How well all is to be readable, with its plain meaning. */
export const AIMS = [
  { value: "AA", label: "AA (normal)" },
  { value: "AAA", label: "AAA (strict)" },
] as const;

/** A name that is not taken: itself, else with the first number that is free. */
export function freeName(name: string, taken: Set<string>): string {
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name} ${number}`;
    if (!taken.has(tried)) return tried;
  }
}

/** A path as it stands in an address: names may hold signs that mean something there. */
export const addressOf = (path: string): string => path.split("/").map(encodeURIComponent).join("/");

/** Plain words for figures. */

/** "1 page", "3 pages". */
export function count(number: number, one: string, many = `${one}s`): string {
  return `${number.toLocaleString("en-GB")} ${number === 1 ? one : many}`;
}

/** "820 bytes", "14 kB", "2.3 MB". */
export function sizeText(bytes: number): string {
  if (bytes < 1000) return count(bytes, "byte");
  if (bytes < 1_000_000) return `${Math.round(bytes / 1000)} kB`;
  return `${(bytes / 1_000_000).toFixed(1)} MB`;
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

function startOfDay(date: Date): number {
  return new Date(date.getFullYear(), date.getMonth(), date.getDate()).getTime();
}

export const STATE_WORDS: Record<string, string> = {
  rest: "at rest",
  hover: "pointed at",
  focus: "focused",
  active: "pressed",
  visited: "visited",
};

/** In which states something shows, unless it shows at rest too. */
export function statesText(states: string[]): string {
  if (states.includes("rest")) return "";
  return `only when ${states.map((state) => STATE_WORDS[state] ?? state).join(" or ")}`;
}

/** What a page is called: its title's first part, else its path. */
export function pageName(page: { title: string; path: string }): string {
  const title = page.title.split(/\s[|–—-]\s|:\s/)[0]?.trim();
  return title || page.path;
}

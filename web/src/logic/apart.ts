/** How different colours may be that are treated as one: each step's word, and its share of what the core takes for one. */
export const APART = [
  { within: 0, word: "only the same" },
  { within: 0.5, word: "hardly different" },
  { within: 1, word: "barely different" },
  { within: 1.6, word: "a little different" },
  { within: 2.4, word: "clearly different" },
  { within: 3.4, word: "quite different" },
] as const;

export const apartWord = (step: number): string => APART[step]?.word ?? "";

/** How similar colours must be to merge: each step's words, and its share of what the core takes for one. */
export const APART = [
  { within: 0, word: "the same" },
  { within: 0.5, word: "hardly different" },
  { within: 1, word: "nearly the same" },
  { within: 1.6, word: "similar" },
  { within: 2.4, word: "somewhat similar" },
  { within: 3.4, word: "different" },
] as const;

export const apartWord = (step: number): string => APART[step]?.word ?? "";

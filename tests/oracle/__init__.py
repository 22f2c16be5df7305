"""The engine held against Chromium, on sites it was not built for. `python -m tests.oracle.NAME`, each by itself.

| module | what is held |
|---|---|
| `__main__` | texts, colours, grounds and verdicts of a site: docs/accuracy.md |
| `handing_back` | a site handed back: no pixel changes by itself, every colour by the palette: docs/handing-back.md |
| `palette` | how much of a site its short palette colours: docs/palette.md |
| `judgement` | proposed palettes against what a person said of the pictures |
| `mending` | *Fix all*, before and after: docs/mending.md |
| `scopes`, `coats`, `any_coat` | what sections, parts and pages wear: docs/sections.md |
| `origins`, `reach` | where a colour comes from, and how far a choice reaches: docs/sections.md |
| `things` | fields, focus and links among words, by pixels: docs/beyond.md |
| `promises` | what is said to be readable after palettes and *Fix all*: docs/mending.md |
| `backdrops`, `veils`, `focus` | backdrops, the least veil and plate, the part of a picture: docs/backdrops.md |

Begin with `chromium_truth`, which asks the browser, and `agreement`, which compares. `corpus`, `fresh` and `pictured`
are the sites, `measured` their layouts, `server` serves them.
"""

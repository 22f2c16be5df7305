"""CSS as a browser computes it, with colours left as expressions of what the files say.

Begin with `computed.Cascade`; `stylesheet` reads files into `rules`, `properties` are values, `selectors` match.
"""

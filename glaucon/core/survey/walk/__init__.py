"""The walk over one page in one state: its texts, their colours, and the stack of layers each lies on.

Begin with `walk.PageWalk`; `styles` says how elements look, `covers` and `cells` what lies under words without a
measured layout, `measured` with one.
"""

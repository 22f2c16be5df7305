"""What goes in and out as files: sites handed back recoloured, add-on stylesheets, previews, palettes, audits.

Begin with `recolour`; `hand_back` and `preview` use it, the documents for tools are beside it.
"""

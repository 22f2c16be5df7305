"""The rules of the job and their computation; nothing here knows of Django or a screen.

Begin with docs/architecture.md; `survey` looks at a site, `reading` reads it, `study` is what a person decides, `acts`
is what they can do.
"""

"""One place of a site looked at closely: how far a choice there reaches, its colours, where they come from."""

"""Request and response documents of the API. Those of acts and searches are defined in the core.

Begin with `study`; `asked.Asked` refuses what a request has no field for.
"""

"""What the API takes and gives, as documents; what acts and searches take and give is said in the core.

Begin with `study`; `asked.Asked` refuses what a request has no field for.
"""

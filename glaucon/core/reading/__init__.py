"""A survey read under colours: which texts can be read against what lies behind them.

Begin with `reading.CompiledPairings`, then `findings.SurveyIndex`, which counts what was read by roles and pages.
"""

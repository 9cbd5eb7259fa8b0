"""How days are typed, by region: the first format is the one shown; Django reads all of them.

ISO days (2026-11-30) are read everywhere: Django adds them.
"""

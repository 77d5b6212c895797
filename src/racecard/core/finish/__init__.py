"""The judgement: strike, time, quality, the lot test, grades, sentences, stewards' notes.

Shape letters: u units, p propagules, t treatments, k look days, b blocks, r re-dealings.
"""

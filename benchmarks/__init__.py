"""Benchmarks: the budgets of the text engine, the press and the board, measured on a long public-domain novel.

``./lexigon bench`` runs all; each file here measures one subject in a process of its own and returns rows.
"""

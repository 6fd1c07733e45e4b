"""Prepare: the bench sheet, paper and bare shafts, the gate to levelling."""

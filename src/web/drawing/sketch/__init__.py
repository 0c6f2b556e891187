"""Drawings of quick sheets, made of their answers: what a person would sketch beside the figures.

`pen.py` draws and measures words, `scales.py` lays amounts on a scale; each other file has one subject. `pictures.py`
says which of them a tool's sheet shows.
"""

"""Filling a hole of a photo from the photo alone: continued grounds and what is painted over.

A package shows on a small grid what could be there; where each piece of that came from is recovered;
the fill's own pixels are copied from there at full size. Nothing here knows files or placements.
"""

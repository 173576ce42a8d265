"""The lines of a photo that reach its edge: found, measured, and where they meet.

Everything is turned so that what lies beyond a side is at the right: `x` counts pixels from there,
below 0 inside the photo. Nothing here knows files or placements.
"""

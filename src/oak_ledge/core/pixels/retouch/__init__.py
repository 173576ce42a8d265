"""What is painted over or copied on a photo, as patches of its own pixels; the photo's file stays."""

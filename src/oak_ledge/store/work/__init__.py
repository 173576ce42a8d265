"""What is to be made: files of deliveries, fills of scenes, and which worker has claimed them."""

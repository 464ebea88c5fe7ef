"""What a scene sounds like: its mix, its waves, how loud each layer is."""

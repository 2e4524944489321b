"""What works off the interface thread and brings its answers back as signals."""

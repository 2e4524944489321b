"""The motifs, one file for each kind."""

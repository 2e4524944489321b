"""Rules that reshape what stands above, one file for each kind; they draw nothing until copies ask."""

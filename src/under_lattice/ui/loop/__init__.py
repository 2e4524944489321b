"""The string of time under the sheet: playing, scrubbing, and the beads of all that moves."""

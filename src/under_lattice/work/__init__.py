"""The work: what is saved, how it is edited, evaluated and measured."""

"""The tray at the right: siblings hung on a thread, and versions kept on the shelf."""

"""One file for each station of the work order."""

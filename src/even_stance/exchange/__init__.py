"""Job files and everything else that goes in or out."""

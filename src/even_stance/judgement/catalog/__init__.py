"""What there is to start from: layouts, lateral devices, starting linkages."""

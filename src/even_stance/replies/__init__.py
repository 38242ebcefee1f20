"""What other programs are told: every answer of the window as a record of named numbers, with its JSON Schema."""

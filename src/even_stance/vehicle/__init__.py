"""What the car is: frozen records and the edits people make to them. No maths of motion here."""

"""Vehicle plus mechanics gives answers: small frozen results with value, unit and source."""

"""Tables of readings: columns, what is known of them, and what is worked out from them."""

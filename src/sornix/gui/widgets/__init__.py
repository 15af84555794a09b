"""Controls that know nothing of figures."""

"""`sornix fit`: what is asked, and what is told."""

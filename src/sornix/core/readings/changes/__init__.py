"""What is done to tables: acts, repair, filling, finding."""

"""What Ash Lane takes in time, each figure beside what is wanted of it."""

"""The pages that people see."""

"""The entries of the rule book, a module for each page's part."""

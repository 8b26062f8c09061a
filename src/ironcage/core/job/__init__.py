"""What the builder knows. May import `calc` and `units`; never an answer, a file format for others, or a screen.

Start with `values.model`, the job itself. `edits` change it, `text` reads what is typed and calls them, `geometry` says
where its tubes and bodies are, `shelf` has what can be bought, `store` keeps it on the disk.
"""

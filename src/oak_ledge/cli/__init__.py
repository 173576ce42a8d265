"""The `oak-ledge` command: thin functions over the flows that the pages use too."""

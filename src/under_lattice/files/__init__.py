"""Works in files: storage, migrations, schema, the recipe in a picture, drawings and pictures brought in."""

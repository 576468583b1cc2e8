"""Reading the photo of a sprayed card: found, flattened, measured, judged (docs/models.md F)."""

"""The kit all pages share: base page, path strip, figures, charts, units. No models."""

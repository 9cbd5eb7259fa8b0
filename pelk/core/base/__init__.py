"""What everything stands on: errors, quantities, sources, figures, arithmetic."""

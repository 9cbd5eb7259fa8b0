"""What a grower asks for: parts, doses, batch, conditions."""

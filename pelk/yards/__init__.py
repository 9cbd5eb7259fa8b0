"""People, yards and their settings; everything a grower keeps belongs to a yard."""

"""What a material is and holds, how it is measured, bought and paid."""

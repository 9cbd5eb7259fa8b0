"""What crops want, and how they are fed."""

"""What is to do while a heap cures, and the heap to train on."""

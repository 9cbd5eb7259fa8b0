"""Laboratory reports, feed blends, and what does the same job."""

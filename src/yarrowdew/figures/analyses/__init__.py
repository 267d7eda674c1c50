"""What is worked out beside a figure: comparisons, pairs, residuals, suggestions."""

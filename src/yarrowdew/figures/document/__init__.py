"""The parts of a figure document, one module for each subject."""

"""Words that figures share, and the sentences that say what a fit means."""

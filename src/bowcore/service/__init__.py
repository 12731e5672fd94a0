"""The job as the trade runs it: order of steps, gates, holds, cautions, targets, hand-over."""

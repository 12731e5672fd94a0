"""The job as the trade runs it: services, steps, gates, holds, policies, targets, hand-over."""

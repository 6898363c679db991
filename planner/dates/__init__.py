"""When a build is ready: calendar, tasks, orders, what happened, and what was said before."""

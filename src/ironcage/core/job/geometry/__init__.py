"""Where the things of a job are in space: `routes` of tubes, `bodies` of everything placed. Imports `values` alone."""

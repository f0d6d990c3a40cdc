"""The rules of the job as a pure library: no clock, no network, no files, no database."""

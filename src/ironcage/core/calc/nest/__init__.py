"""Laying parts out on what they are cut from. Numbers in, numbers out; imports nothing of a job."""

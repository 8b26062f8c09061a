"""`python -m ironcage.samples`: writes the files of the demos anew from their tables."""

from ironcage.core.job.store.file import to_text
from ironcage.samples import SAMPLES, built, file_of

for name in SAMPLES:
    file_of(name).write_text(to_text(built(name)), "utf-8")

"""A process of its own that opens files of foreign formats: `child.py ROOM KIND LIMIT PATH …`.

The libraries that read workbooks, Parquet and HDF5 are large and foreign, and a damaged file may
bring them down. Here they bring down nothing but this process, which has a limit on its memory. It
imports nothing of Sornix, so that it starts at once, but the module ROOM beside it, in which
READERS says what opens a KIND. What that finds goes to standard output: a letter that says which,
and a pickled value, or columns after a C. The letters that are the same for all kinds: D
for a damaged file, L for one that holds too much, I where a library is not installed, M at the
limit of memory.
"""

import importlib
import os
import pickle
import resource
import sys
from pathlib import Path


def main() -> None:
    room, kind, limit, *arguments = sys.argv[1:]
    resource.setrlimit(resource.RLIMIT_AS, (int(limit), int(limit)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    # behind all others, so that no library takes what stands here for its own
    sys.path.append(str(Path(__file__).parent))
    try:
        found = importlib.import_module(room).READERS[kind](*arguments)
    except MemoryError:
        found = ("M", "")
    except ImportError as error:
        found = ("I", error.name or "")
    if found is not None:
        # in place of whatever was begun
        sys.stdout.buffer.seek(0)
        sys.stdout.buffer.truncate()
        sys.stdout.buffer.write(found[0].encode() + pickle.dumps(found[1], protocol=5))
    sys.stdout.flush()
    # nothing of it is wanted any more, and taking libraries down takes a while
    os._exit(0)


if __name__ == "__main__":
    main()

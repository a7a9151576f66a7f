"""The process that workers are forked from lets go of what it only read; nothing that was written is lost."""

import subprocess
import sys

from ravine.engine.mapped import ranges_of

TABLE = """\
7f0000000000-7f0000003000 r-xp 00000000 08:01 5    /usr/lib/libplain.so
Rss:                  12 kB
Private_Dirty:         0 kB
Anonymous:             0 kB
7f0000003000-7f0000005000 r--p 00003000 08:01 5    /usr/lib/libplain.so
Rss:                   8 kB
Private_Dirty:         4 kB
Anonymous:             4 kB
7f0000010000-7f0000012000 rw-p 00000000 00:00 0
Rss:                   8 kB
Private_Dirty:         0 kB
Anonymous:             0 kB
7fff00000000-7fff00001000 r-xp 00000000 00:00 0    [vdso]
Rss:                   4 kB
"""

PROGRAM = """
import mmap, os, sys, tempfile
from pathlib import Path
from ravine.core.kernel.build import box
from ravine.core.kernel.boolean import combine
from ravine.core.kernel.properties import area_properties
from ravine.engine.mapped import let_go_of_files

def size():
    box_a, box_b = box(2, 2, 2), box(1, 1, 3)
    return round(area_properties(combine("unite", box_a, [box_b])[0]).amount, 9)

page = mmap.PAGESIZE
file = Path(tempfile.mkstemp()[1])
file.write_bytes(b"a" * 4 * page)
with file.open("r+b") as handle:
    plain = mmap.mmap(handle.fileno(), 4 * page, mmap.MAP_PRIVATE, mmap.PROT_READ)
    written = mmap.mmap(handle.fileno(), 4 * page, mmap.MAP_PRIVATE, mmap.PROT_READ | mmap.PROT_WRITE)
assert plain[0] == ord("a")
written[page] = ord("b")
freed = let_go_of_files()
assert written[page] == ord("b") and written[0] == plain[3 * page] == ord("a")
child = os.fork()  # before the kernel is called, which starts threads that a fork does not take along
if child == 0:
    os._exit(0 if size() == 28 else 1)
assert os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) == 0, "a fork of it works"
assert size() == 28
file.unlink()
print(freed >> 20)
"""


def test_only_ranges_that_are_as_in_their_file_go():
    found = list(ranges_of(TABLE.splitlines()))
    assert [(f.as_file, f.held >> 10) for f in found] == [(True, 12), (False, 8), (False, 8), (False, 4)]
    assert found[0].at == 0x7F0000000000
    assert found[0].size == 0x3000


def test_a_process_goes_on_as_before_and_so_do_its_forks():
    told = subprocess.run([sys.executable, "-c", PROGRAM], capture_output=True, text=True, env={"PYTHONPATH": "src"},
                          check=False)  # fmt: skip
    assert told.returncode == 0, told.stderr
    assert int(told.stdout) > 40, "MB of the geometry library"

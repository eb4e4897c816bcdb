# The marble run from Python, without a device: a strike on glass, what was decided, and how loud it was.
import math

import kiai

with kiai.open_silent("marble-run", seed=1) as bench:
    print(*bench.findings, sep="\n", end="")
    bench.decisions()  # from here on they are kept
    bench.contact("marble", "glass", 0.8)
    roll = bench.play("roll", "bench")
    roll.set_pitch(2)
    peak = max(map(abs, bench.render(48000)))
    print(*bench.decisions(), sep="\n")
    print(f"peak {20 * math.log10(peak):.1f} dBFS")

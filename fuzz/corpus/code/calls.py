import kiai as k
with k.open_silent("marble-run", seed=1) as bench:
    bench.play("oka")  # bench.play("x")
    other.play("x")

-- The marble run from Lua, without a device: a strike on glass, what was decided, and how loud it was.
local kiai = require "kiai_lua"

local bench <close> = kiai.open_silent("marble-run", 48000, 1)
bench:next_decision() -- from here on they are kept
bench:contact("marble", "glass", 0.8)
bench:play("roll", "bench")
bench:notice("tray-emptied", {marbles = 12})
local peak = bench:render(48000)
for line in bench.next_decision, bench do print(line) end
print(string.format("peak %.1f dBFS", 20 * math.log(peak, 10)))

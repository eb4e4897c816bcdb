local kiai = require "kiai_lua"
local bench <close> = kiai.open_silent("marble-run", 48000, 1)
bench:play("oka") -- bench:play("x")

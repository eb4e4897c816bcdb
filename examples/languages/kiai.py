"""Kiai for Python: a thin layer over kiai_c.h, with nothing to build.

    import kiai
    bench = kiai.open("marble-run")
    bench.click(118, 82)
"""

import ctypes
import ctypes.util
import os

_library = os.environ.get("KIAI_LIBRARY") or ctypes.util.find_library("kiai") or "libkiai.so.0"
_c = ctypes.CDLL(_library)

_engine, _text, _float, _double = ctypes.c_void_p, ctypes.c_char_p, ctypes.c_float, ctypes.c_double
_int, _number = ctypes.c_int, ctypes.c_uint64

# What each function takes after the engine, and what it gives; status: an int that is 0, or an Error is raised.
_functions = {
    "press": ([_float, _float, _number], "status"),
    "release": ([_number], "status"),
    "click": ([_float, _float, _number], "status"),
    "pointer": ([_float, _float, _number], "status"),
    "pointer_gone": ([_number], "status"),
    "key_down": ([_text], "status"),
    "key_up": ([_text], "status"),
    "key_tap": ([_text], "status"),
    "contact": ([_text, _text, _float, _float, _number], "status"),
    "contact_end": ([_number], "status"),
    "body": ([_number, _text, _float, _float, _float], "status"),
    "body_box": ([_number, _text, _float, _float, _float, _float], "status"),
    "body_gone": ([_number], "status"),
    "playhead": ([_text, _float, _int], "status"),
    "playhead_gone": ([_text, _int], "status"),
    "set_dial": ([_text, _float], "status"),
    "enter_scope": ([_text], "status"),
    "leave_scope": ([_text], "status"),
    "pause_scope": ([_text], "status"),
    "resume_scope": ([_text], "status"),
    "move_zone": ([_text, _float, _float, _float], "status"),
    "remove_zone": ([_text], "status"),
    "input_lost": ([], "status"),
    "stop": ([_int, _text, _double], "status"),
    "pause": ([_int, _text], "status"),
    "resume": ([_int, _text], "status"),
    "restart": ([_int, _text], "status"),
    "toggle": ([_text], "status"),
    "run": ([_text], "status"),
    "set_bus_gain": ([_text, _float, _double], "status"),
    "mute_bus": ([_text, _int], "status"),
    "wind_down": ([_double], "status"),
    "reload": ([_text], "status"),
    "poll": ([], "status"),
    "sounding": ([], _int),
    "now": ([], ctypes.c_int64),
    "sample_rate": ([], _int),
    "latency": ([], ctypes.c_int64),
    "scope": ([_text], _int),
}
_defaults = {
    "press": (0, 0, 0), "release": (0,), "click": (0, 0, 0), "pointer": (0, 0, 0), "pointer_gone": (0,),
    "contact": ("", "", 1.0, 0.0, 0), "move_zone": ("", 0, 0, 1.0), "playhead": ("", 0, 0), "playhead_gone": ("", 0),
    "stop": (1, "", -1.0), "set_bus_gain": ("", 0, 0.01), "mute_bus": ("", 1), "wind_down": (0.2,),
}

SOUND, BUS, SCOPE, SEQUENCE, EVERYTHING = 1, 2, 3, 4, 5
STATES = ("ended", "asked", "playing", "fading", "paused")
REASONS = ("none", "finished", "stopped", "stolen", "scope-left", "changed", "refused", "unknown-name", "pending",
           "not-ready", "scope-off", "bad-number", "lost", "engine-gone")


def _declare(name, takes, gives):
    function = getattr(_c, "kiai_" + name)
    function.argtypes, function.restype = takes, gives
    return function


for _name, (_takes, _gives) in _functions.items():
    _declare(_name, [_engine] + _takes, _int if _gives == "status" else _gives)
_declare("c_version", [], _int)
_declare("version", [], _text)
_declare("status_text", [_int], _text)
_declare("open", [_text], _engine)
_declare("open_silent", [_text, _int, _number], _engine)
_declare("close", [_engine], None)
_declare("findings", [_engine], _int)
_declare("finding", [_engine, _int, _text, ctypes.c_size_t], ctypes.c_size_t)
_declare("next_decision", [_engine, _text, ctypes.c_size_t], ctypes.c_size_t)
_declare("notice", [_engine, _text, ctypes.POINTER(_text), ctypes.POINTER(_float), _int], _int)
_declare("play", [_engine, _text, _text], _number)
_declare("crossfade", [_engine, _text, _text, _double], _number)
_declare("render", [_engine, ctypes.POINTER(_float), _int], _int)
_declare("dial", [_engine, _text, ctypes.POINTER(_float)], _int)
_declare("bus_level", [_engine, _text] + 3 * [ctypes.POINTER(_float)], _int)
for _name, _takes in {"stop": [_double], "pause": [], "resume": [], "seek": [_double], "set_gain": [_float, _double],
                      "set_pitch": [_float, _double], "set_pan": [_float, _double], "set": [_text, _float]}.items():
    _declare("play_" + _name, [_engine, _number] + _takes, _int)
_declare("play_state_of", [_engine, _number], _int)
_declare("play_reason", [_engine, _number], _int)
_declare("play_number", [_engine, _number], ctypes.c_uint32)
_declare("play_position", [_engine, _number], _double)

version = _c.kiai_version().decode()


class Error(Exception):
    """What a call could not do."""


def _bytes(value):
    return value.encode() if isinstance(value, str) else value


def _done(status):
    if status != 0:
        raise Error(_c.kiai_status_text(status).decode())


class Play:
    """A play that was asked for. All calls are harmless once it has ended."""

    def __init__(self, engine, number):
        self._engine, self._id = engine, number

    def __getattr__(self, name):
        if name not in ("stop", "pause", "resume", "seek", "set_gain", "set_pitch", "set_pan", "set"):
            raise AttributeError(name)
        function = getattr(_c, "kiai_play_" + name)

        def call(*values):
            if name == "stop" and not values:
                values = (-1.0,)
            if name.startswith("set_") and len(values) == 1:
                values += (0.01,)
            _done(function(self._engine._handle, self._id, *map(_bytes, values)))

        return call

    state = property(lambda self: STATES[_c.kiai_play_state_of(self._engine._handle, self._id)])
    reason = property(lambda self: REASONS[_c.kiai_play_reason(self._engine._handle, self._id)])
    number = property(lambda self: _c.kiai_play_number(self._engine._handle, self._id))
    position = property(lambda self: _c.kiai_play_position(self._engine._handle, self._id))


class Engine:
    """One engine; has the calls of kiai_c.h without their `kiai_`."""

    def __init__(self, handle):
        if not handle:
            raise Error("the project cannot be opened: there is not enough memory")
        self._handle = handle

    def __enter__(self):
        return self

    def __exit__(self, *_):
        self.close()

    def __getattr__(self, name):
        if name not in _functions:
            raise AttributeError(name)
        function, (takes, gives) = getattr(_c, "kiai_" + name), _functions[name]

        def call(*values):
            values += _defaults.get(name, ())[len(values):]
            if len(values) != len(takes):
                raise TypeError(f"{name} takes {len(takes)} values")
            result = function(self._handle, *map(_bytes, values))
            return _done(result) if gives == "status" else result

        return call

    def close(self):
        """Ends the engine; waits until what sounds on a device has ended."""
        handle, self._handle = self._handle, None
        _c.kiai_close(handle)

    def _lines(self, take):
        buffer = ctypes.create_string_buffer(4096)
        while take(buffer, len(buffer)) > 0:
            yield buffer.value.decode()

    @property
    def findings(self):
        """What is wrong or doubtful about the project, a line each."""
        return [next(self._lines(lambda text, size, n=n: _c.kiai_finding(self._handle, n, text, size)))
                for n in range(_c.kiai_findings(self._handle))]

    def decisions(self):
        """The decisions since the last call, a line each; keeps them from the first call on."""
        self.poll()
        return list(self._lines(lambda text, size: _c.kiai_next_decision(self._handle, text, size)))

    def notice(self, name, **values):
        names = (_text * len(values))(*[key.encode() for key in values])
        _done(_c.kiai_notice(self._handle, _bytes(name), names, (_float * len(values))(*values.values()), len(values)))

    def play(self, sound, scope=None):
        return Play(self, _c.kiai_play(self._handle, _bytes(sound), _bytes(scope)))

    def crossfade(self, old, new, seconds):
        return Play(self, _c.kiai_crossfade(self._handle, _bytes(old), _bytes(new), seconds))

    def dial(self, name):
        value = _float()
        _done(_c.kiai_dial(self._handle, _bytes(name), value))
        return value.value

    def bus_level(self, bus):
        """Peak and true peak, linear, and loudness in LUFS."""
        level = [_float(), _float(), _float()]
        _done(_c.kiai_bus_level(self._handle, _bytes(bus), *level))
        return tuple(one.value for one in level)

    def render(self, frames):
        """The next frames of an engine without a device: an array of floats, left and right by turns."""
        out = (_float * (2 * frames))()
        _done(_c.kiai_render(self._handle, out, frames))
        return out


def open(project):
    """Plays a project, a folder or a pack, on the default device."""
    return Engine(_c.kiai_open(os.fsencode(project)))


def open_silent(project, sample_rate=48000, seed=0):
    """The same without a device: `render` makes its sound."""
    return Engine(_c.kiai_open_silent(os.fsencode(project), sample_rate, seed))

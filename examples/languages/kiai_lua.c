/* Kiai for scripts in Lua 5.4: what a game's scripts report. `require "kiai_lua"` gives `open` and `open_silent`. */
#include <kiai_c.h>

#include <lauxlib.h>
#include <lua.h>

static const char* const type_name = "kiai";

static kiai_engine* engine_of(lua_State* lua) {
    kiai_engine** held = luaL_checkudata(lua, 1, type_name);
    if (!*held) luaL_error(lua, "this engine is closed");
    return *held;
}

static int done(lua_State* lua, int status) {
    return status == KIAI_OK ? 0 : luaL_error(lua, "%s", kiai_status_text(status));
}

static int keep(lua_State* lua, kiai_engine* engine) {
    if (!engine) return luaL_error(lua, "the project cannot be opened: there is not enough memory");
    kiai_engine** held = lua_newuserdatauv(lua, sizeof *held, 0);
    *held = engine;
    luaL_setmetatable(lua, type_name);
    return 1;
}

static int open_heard(lua_State* lua) {
    return keep(lua, kiai_open(luaL_checkstring(lua, 1)));
}

/* open_silent(project, sample_rate, seed) */
static int open_silent(lua_State* lua) {
    return keep(lua, kiai_open_silent(luaL_checkstring(lua, 1), (int)luaL_optinteger(lua, 2, 48000),
                                      (uint64_t)luaL_optinteger(lua, 3, 0)));
}

static int close_engine(lua_State* lua) {
    kiai_engine** held = luaL_checkudata(lua, 1, type_name);
    kiai_close(*held);
    *held = NULL;
    return 0;
}

/* bench:notice("run-complete", {speed = 2}) */
static int notice(lua_State* lua) {
    kiai_engine* engine = engine_of(lua);
    const char* names[4];
    float values[4];
    int count = 0;
    if (lua_istable(lua, 3))
        for (lua_pushnil(lua); lua_next(lua, 3) && count < 4; lua_pop(lua, 1), ++count) {
            if (lua_type(lua, -2) != LUA_TSTRING) return luaL_error(lua, "a value of a notice has no name");
            names[count] = lua_tostring(lua, -2);
            values[count] = (float)luaL_checknumber(lua, -1);
        }
    return done(lua, kiai_notice(engine, luaL_checkstring(lua, 2), names, values, count));
}

/* bench:contact("marble", "glass", strength, place) */
static int contact(lua_State* lua) {
    return done(lua, kiai_contact(engine_of(lua), luaL_checkstring(lua, 2), luaL_checkstring(lua, 3),
                                  (float)luaL_optnumber(lua, 4, 1), (float)luaL_optnumber(lua, 5, 0), 0));
}

static int set_dial(lua_State* lua) {
    return done(lua, kiai_set_dial(engine_of(lua), luaL_checkstring(lua, 2), (float)luaL_checknumber(lua, 3)));
}

static int enter_scope(lua_State* lua) {
    return done(lua, kiai_enter_scope(engine_of(lua), luaL_checkstring(lua, 2)));
}

static int leave_scope(lua_State* lua) {
    return done(lua, kiai_leave_scope(engine_of(lua), luaL_checkstring(lua, 2)));
}

/* bench:play("roll", scope) gives the play's number; bench:stop_play(number, fade) */
static int play(lua_State* lua) {
    lua_pushinteger(lua,
                    (lua_Integer)kiai_play(engine_of(lua), luaL_checkstring(lua, 2), luaL_optstring(lua, 3, NULL)));
    return 1;
}

static int stop_play(lua_State* lua) {
    return done(lua,
                kiai_play_stop(engine_of(lua), (kiai_play_id)luaL_checkinteger(lua, 2), luaL_optnumber(lua, 3, -1)));
}

/* Renders so many frames, and gives the largest magnitude. */
static int render(lua_State* lua) {
    kiai_engine* engine = engine_of(lua);
    float out[2 * 480], peak = 0;
    for (lua_Integer left = luaL_checkinteger(lua, 2); left > 0; left -= 480) {
        const int frames = left < 480 ? (int)left : 480;
        const int status = kiai_render(engine, out, frames);
        if (status != KIAI_OK) return done(lua, status);
        for (int i = 0; i < 2 * frames; ++i) {
            const float magnitude = out[i] < 0 ? -out[i] : out[i];
            if (magnitude > peak) peak = magnitude;
        }
    }
    lua_pushnumber(lua, peak);
    return 1;
}

/* The next decision as a line of text, or nil; decisions are kept from the first call on. */
static int next_decision(lua_State* lua) {
    kiai_engine* engine = engine_of(lua);
    char line[1024];
    kiai_poll(engine);
    if (kiai_next_decision(engine, line, sizeof line) == 0) return 0;
    lua_pushstring(lua, line);
    return 1;
}

int luaopen_kiai_lua(lua_State* lua) {
    static const luaL_Reg calls[] = {{"close", close_engine},
                                     {"notice", notice},
                                     {"contact", contact},
                                     {"set_dial", set_dial},
                                     {"enter_scope", enter_scope},
                                     {"leave_scope", leave_scope},
                                     {"play", play},
                                     {"stop_play", stop_play},
                                     {"render", render},
                                     {"next_decision", next_decision},
                                     {"__gc", close_engine},
                                     {"__close", close_engine},
                                     {NULL, NULL}};
    static const luaL_Reg functions[] = {{"open", open_heard}, {"open_silent", open_silent}, {NULL, NULL}};
    luaL_newmetatable(lua, type_name);
    luaL_setfuncs(lua, calls, 0);
    lua_pushvalue(lua, -1);
    lua_setfield(lua, -2, "__index");
    luaL_newlib(lua, functions);
    return 1;
}

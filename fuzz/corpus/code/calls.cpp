#include <kiai/kiai.h>
// bench.play("nothing");
struct Game { kiai::Session& bench; std::unique_ptr<kiai::Session> other; Animation anim; };
void f(Game& game, kiai::Engine& engine) {
    auto sound = kiai::open("marble-run");
    sound.play("oka"); game.bench.play("oak"); game.other->set_dial("filll", 0.5f);
    engine.key_tap("space"); engine.enter_scope("bnech"); anim.play("walk");
    engine.set_dial("oak", 1); engine.notice("run-completed"); engine.stop(kiai::Target::bus("piecs"));
    engine.contact("marble", "brasss"); engine.play(name); engine.play("a" + b);
    engine.play("oak"); names::sound::oak; names::dial::fil;
}

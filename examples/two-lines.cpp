#include <kiai/kiai.h>

int main() {
    auto bench = kiai::open("marble-run");
    bench.press({118, 82});
}

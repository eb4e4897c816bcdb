#include <kiai/kiai.h>

int main() {
    auto bench = kiai::open("marble-run");
    bench.click({118, 82});
}

// Loads a project before `main`, as a static object of an app may; house_test.cpp runs it.
#include <kiai/keys.h>
#include <kiai/load.h>

namespace {
const kiai::LoadResult loaded = kiai::load_project(KIAI_SOURCE "/examples/marble-run");
}

int main() {
    return loaded.ok() && !kiai::project_keys().empty() ? 0 : 1;
}

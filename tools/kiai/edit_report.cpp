#include "edit_report.h"

#include "documents.h"

#include <iostream>

namespace kiai::tool {

static void describe_members(Shape<Change>& shape) {
    shape.has("line", "The line of kiai.toml, from 1.", &Change::line)
        .has("before", "The line before the edit; empty if the line is new.", &Change::before)
        .has("after", "The line after the edit; empty if the line was removed.", &Change::after);
}

static void describe_members(Shape<EditResult>& shape) {
    shape.has("changes", "The lines of kiai.toml that changed.", &EditResult::changes)
        .has("remarks", "What else there is to know about the edit.", &EditResult::remarks);
}

const Document edit_document{"edit", "The changes of `kiai bind`, `unbind`, `rename` and `remove` with `--json`", 1,
                             [] { return shape_of<EditResult>().schema(); }};

Status report_edit(const EditResult& edited, bool json) {
    if (!json) return say_edit(edited);
    std::cout << print_document(edit_document, edited);
    return say_findings(edited.findings) ? done : failed;
}

} // namespace kiai::tool

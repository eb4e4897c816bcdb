#include "core/reader/project_reader.h"

#include <kiai/builder.h>

namespace kiai::inline v0 {

using reader::Member;
using reader::Value;

namespace {

Value value_of(const Setting& setting) {
    Value value;
    switch (setting.kind) {
    case Setting::Kind::text:
        value.kind = Value::Kind::text;
        value.text = setting.text;
        break;
    case Setting::Kind::number:
        value.kind = Value::Kind::number;
        value.number = setting.number;
        break;
    case Setting::Kind::truth:
        value.kind = Value::Kind::truth;
        value.truth = setting.truth;
        break;
    case Setting::Kind::list:
        value.kind = Value::Kind::list;
        for (const Setting& item : setting.items) value.items.push_back(value_of(item));
        break;
    case Setting::Kind::table:
        for (const NamedSetting& member : setting.members)
            value.members.push_back({member.key, {}, value_of(member.value)});
        break;
    }
    return value;
}

/// Returns the value at a path, and makes all tables on the way to it.
Value& value_at(Value& root, std::string_view path) {
    Value* at = &root;
    while (!path.empty()) {
        const std::string_view key = path.substr(0, path.find('.'));
        path.remove_prefix(std::min(path.size(), key.size() + 1));
        if (at->kind != Value::Kind::table) *at = {};
        Value* next = nullptr;
        for (Member& member : at->members)
            if (member.key == key) next = &member.value;
        if (!next) {
            at->members.push_back({std::string(key), {}, {}});
            next = &at->members.back().value;
        }
        at = next;
    }
    return *at;
}

/// A source without files.
class NoFiles : public reader::ClipFiles {
  public:
    bool exists(const std::string&) const override { return false; }
    bool stays_inside(const std::string&) const override { return true; }
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>&) override { return {}; }
    Meant meant(const std::string&, const std::set<std::string>&) override {
        return {"a project that is made in code has no files: give the samples with ProjectBuilder::clip", {}};
    }
};

} // namespace

Settings::Settings(std::initializer_list<NamedSetting> all) : members(all) {}

Setting::Setting(const char* value) : kind(Kind::text), text(value) {}
Setting::Setting(std::string value) : kind(Kind::text), text(std::move(value)) {}
Setting::Setting(bool value) : kind(Kind::truth), truth(value) {}
Setting::Setting(double value) : kind(Kind::number), number(value) {}
Setting::Setting(std::initializer_list<Setting> values) : kind(Kind::list), items(values) {}
Setting::Setting(std::vector<Setting> values) : kind(Kind::list), items(std::move(values)) {}
Setting::Setting(Settings table) : kind(Kind::table), members(std::move(table.members)) {}

struct ProjectBuilder::Data {
    Value root;
    std::map<std::string, Samples> samples;
};

ProjectBuilder::ProjectBuilder() : data_(std::make_unique<Data>()) {
    set("format", 1);
}
ProjectBuilder::~ProjectBuilder() = default;
ProjectBuilder::ProjectBuilder(ProjectBuilder&&) noexcept = default;
ProjectBuilder& ProjectBuilder::operator=(ProjectBuilder&&) noexcept = default;

ProjectBuilder& ProjectBuilder::clip(std::string_view name, Samples samples) {
    data_->samples.insert_or_assign(std::string(name), std::move(samples));
    return set("clip." + std::string(name), Settings{{"from-app", true}});
}

ProjectBuilder& ProjectBuilder::set(std::string_view path, const Setting& value) {
    value_at(data_->root, path) = value_of(value);
    return *this;
}

ProjectBuilder& ProjectBuilder::add(std::string_view path, Settings table) {
    Value& list = value_at(data_->root, path);
    if (list.kind != Value::Kind::list) list = {};
    list.kind = Value::Kind::list;
    list.items.push_back(value_of(std::move(table)));
    return *this;
}

LoadResult ProjectBuilder::build() const {
    NoFiles files;
    const reader::ReadOptions options{.samples = &data_->samples};
    return reader::read_project({{}, files, options}, data_->root);
}

} // namespace kiai::inline v0

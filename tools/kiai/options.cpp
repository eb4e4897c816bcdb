#include "options.h"

#include "help.h"
#include "usage.h"

#include <CLI/CLI.hpp>

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cstdint>
#include <iostream>
#include <sstream>
#include <utility>

namespace kiai::tool {

namespace {

/// Reads all of `text` as a number from `low` to `high`; throws WrongUse otherwise.
template<class Number>
CLI::Validator number_in(const std::string& name, double low, std::optional<double> high, const std::string& range) {
    return CLI::Validator(
        [=](const std::string& text) -> std::string {
            Number number{};
            const char* end = text.data() + text.size();
            const auto [rest, error] = std::from_chars(text.data(), end, number);
            const auto value = static_cast<double>(number);
            if (error == std::errc{} && rest == end && value >= low && (!high || value <= *high)) return {};
            throw WrongUse(fmt::format("{} takes a{} number{}{}, not \"{}\"", name,
                                       std::is_integral_v<Number> ? " whole" : "",
                                       range.empty() ? "" : " in the range ", range, text));
        },
        "", "number");
}

std::string range_text(double low, std::optional<double> high, const std::string& unit) {
    const std::string space = unit.empty() ? "" : " ";
    return high ? fmt::format("{} to {}{}{}", low, *high, space, unit) : fmt::format("from {:g}{}{}", low, space, unit);
}

std::string time_text(double seconds) {
    return seconds != 0 && seconds < 1 ? fmt::format("{:g} ms", seconds * 1000) : fmt::format("{:g} s", seconds);
}

/// Converts a time with a unit to seconds; throws WrongUse if the text is invalid or out of range.
CLI::Validator time_in(const std::string& name, double low, double high) {
    return CLI::Validator(
        [=](std::string& text) -> std::string {
            static constexpr std::pair<const char*, double> units[] = {{"ms", 0.001}, {"s", 1}, {"min", 60}, {"", 1}};
            double number = 0;
            const char* const end = text.data() + text.size();
            const auto [rest, error] = std::from_chars(text.data(), end, number);
            std::string unit(rest, end);
            unit.erase(0, unit.find_first_not_of(' ') == std::string::npos ? unit.size() : unit.find_first_not_of(' '));
            for (const auto& [known, factor] : units)
                if (error == std::errc{} && unit == known && number * factor >= low && number * factor <= high) {
                    text = fmt::format("{}", number * factor);
                    return {};
                }
            throw WrongUse(fmt::format("{} takes a time from {} to {}, such as \"{}\", not \"{}\"", name,
                                       time_text(low), time_text(high), low > 0.25 ? "2 s" : "250 ms", text));
        },
        "", "");
}

template<class Type>
constexpr bool is_whole = std::is_integral_v<Type>;
template<class Type>
constexpr bool is_whole<std::optional<Type>> = std::is_integral_v<Type>;
template<class Type>
constexpr bool is_whole<std::vector<Type>> = std::is_integral_v<Type>;

template<class Type>
constexpr bool is_number = !std::is_same_v<Type, std::string>;
template<class Type>
constexpr bool is_number<std::vector<Type>> = is_number<Type>;

} // namespace

std::string usage_of(const CommandText& command) {
    std::string usage = "kiai " + command.name;
    if (command.takes_project) usage += " [PROJECT]";
    for (const OperandText& operand : command.operands) usage += ' ' + operand.name;
    return usage + " [OPTIONS]";
}

const std::vector<OptionText>& common_options() {
    static const std::vector<OptionText> common{
        {"--project",
         "-C",
         "",
         "PROJECT",
         "Use this project: a folder with a kiai.toml",
         "",
         "",
         {},
         {},
         Completes::folder},
        {"--help", "-h", "", "", "Print this page", "", "", {}, {}, Completes::nothing, 0}};
    return common;
}

/// The check of a range replaces the one for any number.
void Option::replace_check() {
    option_->get_validator("number")->active(false).name("");
}

Option& Option::at_least(double low, const std::string& unit) {
    text_->range = range_text(low, std::nullopt, unit);
    replace_check();
    option_->check(whole_ ? number_in<std::int64_t>(text_->name, low, {}, text_->range)
                          : number_in<double>(text_->name, low, {}, text_->range));
    return *this;
}

Option& Option::in_range(double low, double high, const std::string& unit) {
    text_->range = range_text(low, high, unit);
    replace_check();
    option_->check(whole_ ? number_in<std::int64_t>(text_->name, low, high, text_->range)
                          : number_in<double>(text_->name, low, high, text_->range));
    return *this;
}

Option& Option::one_of(const std::vector<std::string>& words) {
    text_->choices = words;
    option_->check(CLI::Validator(
        [name = text_->name, words](const std::string& text) -> std::string {
            if (std::find(words.begin(), words.end(), text) != words.end()) return {};
            throw WrongUse(not_one_of(name, text, words));
        },
        "", ""));
    return *this;
}

Option& Option::repeatable() {
    option_->allow_extra_args(false);
    return *this;
}

Option& Option::excludes(const Option& other) {
    text_->excluded.push_back(other.text_->name);
    other.text_->excluded.push_back(text_->name);
    return *this;
}

Option& Option::shows_default() {
    option_->capture_default_str();
    text_->default_value = option_->get_default_str();
    return *this;
}

Option& Option::completes(Completes what) {
    text_->completes = what;
    return *this;
}

OptionText& Command::declare(const std::string& names, const std::string& placeholder, const std::string& text) {
    OptionText& declared = text_->options.emplace_back();
    std::istringstream parts(names);
    for (std::string part; std::getline(parts, part, ',');)
        (!part.starts_with("--") ? declared.letter : declared.name.empty() ? declared.name : declared.alias) = part;
    declared.placeholder = placeholder;
    declared.text = text;
    declared.values =
        placeholder.empty() ? 0 : 1 + static_cast<int>(std::count(placeholder.begin(), placeholder.end(), ' '));
    return declared;
}

template<class Type>
Option Command::option(const std::string& names, Type& into, const std::string& placeholder, const std::string& text) {
    OptionText& declared = declare(names, placeholder, text);
    CLI::Option& option = *app_->add_option(names, into);
    if (declared.values > 1) option.expected(declared.values);
    if constexpr (is_number<Type>) // so that the library has no number to complain about
        option.check(is_whole<Type> ? number_in<std::int64_t>(declared.name, -1e18, {}, "")
                                    : number_in<double>(declared.name, -1e308, {}, ""));
    return {option, declared, is_whole<Type>};
}

template Option Command::option(const std::string&, std::string&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::vector<std::string>&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::vector<int>&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::vector<double>&, const std::string&, const std::string&);
template Option Command::option(const std::string&, int&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::uint64_t&, const std::string&, const std::string&);
template Option Command::option(const std::string&, float&, const std::string&, const std::string&);
template Option Command::option(const std::string&, double&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::optional<float>&, const std::string&, const std::string&);
template Option Command::option(const std::string&, std::optional<std::uint64_t>&, const std::string&,
                                const std::string&);

Option Command::time(const std::string& names, double& seconds, double low, double high, const std::string& text) {
    OptionText& declared = declare(names, "TIME", text);
    CLI::Option& option = *app_->add_option(names, seconds);
    declared.range = time_text(low) + " to " + time_text(high);
    if (seconds != 0) declared.default_value = time_text(seconds);
    option.transform(time_in(declared.name, low, high));
    return {option, declared, false};
}

Option Command::flag(const std::string& names, bool& into, const std::string& text) {
    return {*app_->add_flag(names, into), declare(names, "", text), false};
}

void Command::take(Operands& into, std::vector<OperandText> operands) {
    text_->operands = std::move(operands);
    into.command = text_;
    operands_->push_back(&into);
    app_->add_option("operands", static_cast<std::vector<std::string>&>(into))->expected(0, 1 << 16);
}

void Command::project(Operands& into, std::vector<OperandText> operands) {
    text_->takes_project = true;
    take(into, std::move(operands));
}

void Command::operands(Operands& into, std::vector<OperandText> operands) {
    take(into, std::move(operands));
}

void Command::runs(std::function<Status()> run) {
    app_->callback([chosen = chosen_, run = std::move(run)] { *chosen = run; });
}

Commands::Commands() : app_(std::make_unique<CLI::App>()) {
    app_->set_help_flag();
    app_->add_option("-C,--project", project_);
    app_->require_subcommand(0, 1); // so that an operand may be the name of a command
}

Commands::~Commands() = default;

Command Commands::add(Group group, const std::string& name, const std::string& brief) {
    CommandText& text = texts_.emplace_back();
    text.group = group;
    text.name = name;
    text.brief = brief;
    CLI::App& command = *app_->add_subcommand(name);
    command.set_help_flag();
    command.fallthrough();
    return {command, text, chosen_, operands_};
}

const CommandText& Commands::at(const std::string& name) const {
    for (const CommandText& command : texts_)
        if (command.name == name) return command;
    throw WrongUse(unknown_command(name, texts_));
}

std::optional<Status> Commands::read(const std::vector<std::string>& arguments) {
    const Asked asked = check_usage(arguments, *this);
    if (asked.version) {
        std::cout << version_text();
        return done;
    }
    if (asked.help || !asked.command) {
        std::cout << (asked.command ? help_page(*asked.command) : overview(*this));
        return asked.help ? done : wrong_use;
    }
    try {
        app_->parse(std::vector<std::string>(arguments.rbegin(), arguments.rend())); // the library wants them reversed
    } catch (const CLI::ParseError&) { // check_usage knows of no such case
        throw WrongUse("these arguments do not fit; usage: " + usage_of(*asked.command));
    }
    for (Operands* operands : operands_)
        if (!project_.empty()) operands->project = project_;
    return std::nullopt;
}

} // namespace kiai::tool

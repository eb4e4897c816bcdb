#include "options.h"

#include <kiai/version.h>

#include <CLI/CLI.hpp>

#include <fmt/format.h>

#include <charconv>
#include <cstdint>
#include <iostream>
#include <utility>

namespace kiai::tool {

namespace {

/// Reads all of `text` as a number from `low` to `high`, or gives the reason why not.
template<class Number>
CLI::Validator number_in(double low, std::optional<double> high) {
    const std::string range = high ? fmt::format("from {} to {}", low, *high) : fmt::format("from {}", low);
    const auto check = [low, high, range](const std::string& text) -> std::string {
        Number number{};
        const char* end = text.data() + text.size();
        const auto [rest, error] = std::from_chars(text.data(), end, number);
        const auto value = static_cast<double>(number);
        if (error == std::errc{} && rest == end && value >= low && (!high || value <= *high)) return {};
        return fmt::format("\"{}\" is not a{} number {}", text, std::is_integral_v<Number> ? " whole" : "", range);
    };
    return CLI::Validator(check, range, "");
}

CLI::Validator number_in(bool whole, double low, std::optional<double> high) {
    return whole ? number_in<std::int64_t>(low, high) : number_in<double>(low, high);
}

/// What an option of an older version is called now; empty if it is none.
std::string renamed_option(const std::string& old) {
    static constexpr std::pair<const char*, const char*> options[] = {{"--say", "--decisions"},
                                                                      {"--against", "--baseline"},
                                                                      {"--beside", "--compare"},
                                                                      {"--pieces", "--failures"},
                                                                      {"--anyway", "--ignore-conditions"},
                                                                      {"--apart", "--interval"},
                                                                      {"--codes", "--list"},
                                                                      {"--keys", "--schema"},
                                                                      {"--refer", "--in-place"},
                                                                      {"--mend", "--fix"}};
    for (const auto& [before, now] : options)
        if (old == before || old.starts_with(std::string(before) + '=')) return now;
    return {};
}

template<class Type>
constexpr bool is_whole = std::is_integral_v<Type>;
template<class Type>
constexpr bool is_whole<std::optional<Type>> = std::is_integral_v<Type>;
template<class Type>
constexpr bool is_whole<std::vector<Type>> = std::is_integral_v<Type>;

} // namespace

Option& Option::required() {
    option_->required();
    return *this;
}

Option& Option::expects(int count) {
    option_->expected(count);
    return *this;
}

Option& Option::expects(int least, int most) {
    option_->expected(least, most);
    return *this;
}

Option& Option::at_least(double low) {
    option_->check(number_in(whole_, low, std::nullopt));
    return *this;
}

Option& Option::in_range(double low, double high) {
    option_->check(number_in(whole_, low, high));
    return *this;
}

Option& Option::one_of(const std::vector<std::string>& words, bool listed) {
    CLI::IsMember member(words);
    option_->check(listed ? member : member.description(""));
    return *this;
}

Option& Option::repeatable() {
    option_->take_all();
    return *this;
}

Option& Option::excludes(const Option& other) {
    option_->excludes(other.option_);
    return *this;
}

Option& Option::shows_default() {
    option_->capture_default_str();
    return *this;
}

Option& Option::placeholder(const std::string& word) {
    option_->option_text(word);
    return *this;
}

template<class Type>
Option Command::option(const std::string& name, Type& into, const std::string& help) {
    return {*app_->add_option(name, into, help), is_whole<Type>};
}

template Option Command::option(const std::string&, std::string&, const std::string&);
template Option Command::option(const std::string&, std::vector<std::string>&, const std::string&);
template Option Command::option(const std::string&, std::vector<int>&, const std::string&);
template Option Command::option(const std::string&, std::vector<double>&, const std::string&);
template Option Command::option(const std::string&, int&, const std::string&);
template Option Command::option(const std::string&, std::uint64_t&, const std::string&);
template Option Command::option(const std::string&, float&, const std::string&);
template Option Command::option(const std::string&, double&, const std::string&);
template Option Command::option(const std::string&, std::optional<float>&, const std::string&);
template Option Command::option(const std::string&, std::optional<std::uint64_t>&, const std::string&);

Option Command::flag(const std::string& name, bool& into, const std::string& help) {
    return {*app_->add_flag(name, into, help), false};
}

void Command::explain(const std::string& text) {
    app_->footer(text + "\n\n" + app_->get_footer());
}

void Command::runs(std::function<Status()> run) {
    app_->callback([chosen = chosen_, run = std::move(run)] { *chosen = run; });
}

Commands::Commands() : app_(std::make_unique<CLI::App>("Kiai: sound for games and interactive apps")) {
    app_->set_version_flag("--version", kiai::version);
    app_->require_subcommand(1);
    app_->footer("Each command tells more: kiai check --help");
}

Commands::~Commands() = default;

Command Commands::add(const std::string& name, const std::string& what, const std::string& example) {
    CLI::App& command = *app_->add_subcommand(name, what);
    command.footer("Example:\n  " + example);
    return {command, chosen_};
}

std::optional<Status> Commands::read(int count, char** arguments) {
    for (int i = 1; i < count; ++i)
        if (const std::string now = renamed_option(arguments[i]); !now.empty()) {
            std::cerr << fmt::format("kiai: {} is now called {}\n", arguments[i], now);
            return wrong_use;
        }
    try {
        app_->parse(count, arguments);
    } catch (const CLI::ParseError& error) {
        return app_->exit(error) == 0 ? done : wrong_use;
    }
    return std::nullopt;
}

} // namespace kiai::tool

// What the commands of the tool take: names, types, ranges, defaults. CLI11, which reads them, is in options.cpp alone,
// because it is slow to compile.
#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace CLI {
class App;
class Option;
} // namespace CLI

namespace kiai::tool {

/// Exit statuses.
enum Status { done = 0, failed = 1, wrong_use = 2, not_written = 3 };

/// An option, a flag or the free words of a command.
class Option {
  public:
    Option(CLI::Option& option, bool whole) : option_(&option), whole_(whole) {}

    Option& required();
    /// Takes so many words.
    Option& expects(int count);
    Option& expects(int least, int most);
    /// Takes a number from `low` on, or up to `high`; both included.
    Option& at_least(double low);
    Option& in_range(double low, double high);
    /// Takes one of these words. `listed`: the help lists them behind the name.
    Option& one_of(const std::vector<std::string>& words, bool listed = true);
    /// May be given several times.
    Option& repeatable();
    Option& excludes(const Option& other);
    /// The help shows the default.
    Option& shows_default();
    /// The help shows this for the value.
    Option& placeholder(const std::string& word);

  private:
    CLI::Option* option_;
    bool whole_; ///< its number has no fraction
};

/// A command while it is declared.
class Command {
  public:
    Command(CLI::App& app, std::function<Status()>& chosen) : app_(&app), chosen_(&chosen) {}

    /// Declares an option (`--name`) or the free words, which are stored in `into` when the arguments are read. `Type`
    /// is a text, a number, an optional number, or a list of texts or numbers. `into` outlives the reading.
    template<class Type>
    Option option(const std::string& name, Type& into, const std::string& help);
    Option flag(const std::string& name, bool& into, const std::string& help);
    /// Adds a text to the help, before the example.
    void explain(const std::string& text);
    /// What the command does, once its arguments are read.
    void runs(std::function<Status()> run);

  private:
    CLI::App* app_;
    std::function<Status()>* chosen_;
};

class Commands {
  public:
    Commands();
    ~Commands();

    /// Declares a command. The example is printed below the options in its help.
    Command add(const std::string& name, const std::string& what, const std::string& example);
    /// Reads the arguments. Returns a status if the tool ends there: help was asked for, or the arguments are wrong.
    std::optional<Status> read(int count, char** arguments);
    /// Runs the command that was read.
    Status run() { return chosen_(); }

  private:
    std::unique_ptr<CLI::App> app_;
    std::function<Status()> chosen_;
};

} // namespace kiai::tool

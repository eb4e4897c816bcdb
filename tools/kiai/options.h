// Declares the arguments of the tool's commands: names, types, ranges, defaults. Only options.cpp includes CLI11,
// because CLI11 is slow to compile.
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

/// An option, a flag or the positional arguments of a command.
class Option {
  public:
    Option(CLI::Option& option, bool whole) : option_(&option), whole_(whole) {}

    Option& required();
    /// Sets how many values the option takes.
    Option& expects(int count);
    Option& expects(int least, int most);
    /// Limits the number; `low` and `high` are allowed.
    Option& at_least(double low);
    Option& in_range(double low, double high);
    /// Limits the value to these words. If `listed`, the help shows the words next to the name.
    Option& one_of(const std::vector<std::string>& words, bool listed = true);
    /// Allows the option several times.
    Option& repeatable();
    Option& excludes(const Option& other);
    /// Shows the default in the help.
    Option& shows_default();
    /// Shows `word` in the help in place of the type.
    Option& placeholder(const std::string& word);

  private:
    CLI::Option* option_;
    bool whole_; ///< its number has no fraction
};

/// Declares one command.
class Command {
  public:
    Command(CLI::App& app, std::function<Status()>& chosen) : app_(&app), chosen_(&chosen) {}

    /// Declares an option (`--name`) or positional arguments (`name`). Commands::read stores the value in `into`, which
    /// must still exist then. `Type` is one of those instantiated in options.cpp: text, number, optional number, list.
    template<class Type>
    Option option(const std::string& name, Type& into, const std::string& help);
    Option flag(const std::string& name, bool& into, const std::string& help);
    /// Adds a text to the help, before the example.
    void explain(const std::string& text);
    /// Sets what the command does; Commands::run calls it.
    void runs(std::function<Status()> run);

  private:
    CLI::App* app_;
    std::function<Status()>* chosen_;
};

/// All commands of the tool.
class Commands {
  public:
    Commands();
    ~Commands();

    /// Declares a command. The example is printed below the options in its help.
    Command add(const std::string& name, const std::string& what, const std::string& example);
    /// Reads the arguments. Returns a status if the tool ends here, because help was printed or an argument is wrong.
    std::optional<Status> read(int count, char** arguments);
    /// Runs the command that was read.
    Status run() { return chosen_(); }

  private:
    std::unique_ptr<CLI::App> app_;
    std::function<Status()> chosen_;
};

} // namespace kiai::tool

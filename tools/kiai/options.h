// Declares the commands of the tool: what they take, and the texts that explain it. Help, errors, man pages and shell
// completions are made from these declarations. Only options.cpp includes CLI11, because CLI11 is slow to compile.
#pragma once

#include <deque>
#include <functional>
#include <memory>
#include <optional>
#include <stdexcept>
#include <string>
#include <vector>

namespace CLI {
class App;
class Option;
} // namespace CLI

namespace kiai::tool {

/// Exit statuses.
enum Status { done = 0, failed = 1, wrong_use = 2, not_written = 3 };

/// Thrown for arguments that make no sense; the text says what to write instead.
struct WrongUse : std::runtime_error {
    using std::runtime_error::runtime_error;
};

/// What a shell completes a value to.
enum class Completes { nothing, file, folder };

struct OptionText {
    std::string name;        ///< `--out`
    std::string letter;      ///< `-o`; empty: none
    std::string alias;       ///< another spelling, which the help does not show; empty: none
    std::string placeholder; ///< `FILE`; of two values `X Y`; empty: a flag
    std::string text;
    std::string range;         ///< `1–10000`; empty: any
    std::string default_value; ///< empty: none, or the text says it
    std::vector<std::string> choices{};
    std::vector<std::string> excluded{}; ///< names of options that cannot be given with this one
    Completes completes = Completes::nothing;
    int values = 1;
};

/// A positional argument of a command.
struct OperandText {
    std::string name; ///< `FILE`, `[TRACE]`, `TRACE…`: as the usage line shows it
    std::string text;
    Completes completes = Completes::nothing;
    std::vector<std::string> choices{};
};

/// The groups of the overview, in its order.
enum class Group { project, files, runs, shipping, help };

struct CommandText {
    Group group = Group::project;
    std::string name, brief;
    bool takes_project = false;
    std::vector<OperandText> operands;
    std::deque<OptionText> options; ///< a deque, because Option keeps references to them
    std::string failure;            ///< when its status is 1
    std::vector<std::string> notes, examples;
};

/// Returns `kiai rename [PROJECT] OLD NEW [OPTIONS]`.
std::string usage_of(const CommandText& command);

/// The positional arguments of a command. `take_project` removes the project from them.
struct Operands : std::vector<std::string> {
    std::optional<std::string> project;   ///< what -C names
    const CommandText* command = nullptr; ///< whose operands they are
};

/// An option of a command.
class Option {
  public:
    Option(CLI::Option& option, OptionText& text, bool whole) : option_(&option), text_(&text), whole_(whole) {}

    /// Limits the number; `low` and `high` are allowed.
    Option& at_least(double low, const std::string& unit = {});
    Option& in_range(double low, double high, const std::string& unit = {});
    /// Limits the value to these words.
    Option& one_of(const std::vector<std::string>& words);
    /// Allows the option several times.
    Option& repeatable();
    Option& excludes(const Option& other);
    /// Shows the default in the help.
    Option& shows_default();
    Option& completes(Completes what);

  private:
    void replace_check();

    CLI::Option* option_;
    OptionText* text_;
    bool whole_; ///< its number has no fraction
};

/// Declares one command.
class Command {
  public:
    Command(CLI::App& app, CommandText& text, std::function<Status()>& chosen, std::vector<Operands*>& operands)
        : app_(&app), text_(&text), chosen_(&chosen), operands_(&operands) {}

    /// Declares that the command takes `[PROJECT]` and then `operands`, which Commands::read stores in `into`.
    void project(Operands& into, std::vector<OperandText> operands = {});
    /// Declares operands without a project.
    void operands(Operands& into, std::vector<OperandText> operands);
    /// Declares `--name`, `-l,--name`, or `--name,--alias`. Commands::read stores the value in `into`, which must still
    /// exist then. `Type` is one of those instantiated in options.cpp. A placeholder of two words takes two values.
    template<class Type>
    Option option(const std::string& names, Type& into, const std::string& placeholder, const std::string& text);
    /// Declares an option whose value is a time: `10 ms`, `0.5 s`, `2 min`, or a number of seconds.
    Option time(const std::string& names, double& seconds, double low, double high, const std::string& text);
    Option flag(const std::string& names, bool& into, const std::string& text);
    /// Declares when the status is 1: `the project has an error`.
    void fails_if(const std::string& text) { text_->failure = text; }
    /// Adds a paragraph to the help.
    void explain(const std::string& text) { text_->notes.push_back(text); }
    void example(const std::string& line) { text_->examples.push_back(line); }
    /// Sets what the command does; Commands::run calls it.
    void runs(std::function<Status()> run);

  private:
    OptionText& declare(const std::string& names, const std::string& placeholder, const std::string& text);
    void take(Operands& into, std::vector<OperandText> operands);

    CLI::App* app_;
    CommandText* text_;
    std::function<Status()>* chosen_;
    std::vector<Operands*>* operands_;
};

/// All commands of the tool.
class Commands {
  public:
    Commands();
    ~Commands();

    Command add(Group group, const std::string& name, const std::string& brief);
    /// Reads the arguments. Returns a status if the tool ends here, because help was printed. Throws WrongUse.
    std::optional<Status> read(const std::vector<std::string>& arguments);
    /// Runs the command that was read.
    Status run() { return chosen_(); }
    const std::deque<CommandText>& all() const noexcept { return texts_; }
    /// Returns the command of that name; throws WrongUse, with the nearest name, if there is none.
    const CommandText& at(const std::string& name) const;

  private:
    std::unique_ptr<CLI::App> app_;
    std::deque<CommandText> texts_;
    std::vector<Operands*> operands_;
    std::string project_;
    std::function<Status()> chosen_;
};

/// The options that every command takes.
const std::vector<OptionText>& common_options();

} // namespace kiai::tool

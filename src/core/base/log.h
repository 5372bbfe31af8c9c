#pragma once
// What the program did, for whoever looks into a fault: a file in the user's state folder
// ($XDG_STATE_HOME/hidden-seam, else ~/.local/state/hidden-seam), that begins anew at 1 MB and keeps the two before. Nothing of
// it leaves the machine. Any thread. Until beginLog() is called, and where the folder cannot be written, nothing is logged.

#include <optional>
#include <string>
#include <string_view>

namespace hseam::base {

enum class LogLevel { debug, info, warning, error, off };
/// "debug", "info", "warning", "error", "off"; nothing for any other word.
std::optional<LogLevel> logLevelNamed(std::string_view name);

/// program: the file's name without ".log". Returns the file's path; empty: it cannot be written, or the level is off. Again: the
/// earlier log is closed.
std::string beginLog(const std::string& program, LogLevel least);
/// Each line is in the file when this returns; a program that is killed loses none.
void log(LogLevel level, std::string_view sentence);
void endLog();

}  // namespace hseam::base

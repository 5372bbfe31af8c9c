#pragma once
// A log for whoever looks into a fault: a file in the user's state folder ($XDG_STATE_HOME/hidden-seam, else
// ~/.local/state/hidden-seam). It rotates at 1 MB; two older files are kept. It never leaves the machine. Any thread. Nothing is
// logged before beginLog() is called or where the folder cannot be written.

#include <optional>
#include <string>
#include <string_view>

namespace hseam::base {

enum class LogLevel { debug, info, warning, error, off };
/// "debug", "info", "warning", "error", "off"; nothing for any other word.
std::optional<LogLevel> logLevelNamed(std::string_view name);

/// program: the file's name without ".log". Returns the file's path, or an empty one if it cannot be written or the level is off.
/// A second call closes the earlier log.
std::string beginLog(const std::string& program, LogLevel least);
/// The line is in the file when this returns, so a killed program loses none.
void log(LogLevel level, std::string_view sentence);
void endLog();

}  // namespace hseam::base

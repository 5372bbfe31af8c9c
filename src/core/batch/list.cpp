#include "core/batch/list.h"

#include <algorithm>
#include <array>
#include <filesystem>
#include <fstream>
#include <map>
#include <nlohmann/json.hpp>
#include <set>

namespace hseam::batch {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using base::Result;
using Json = nlohmann::json;

// What a job may do. A batch in a batch would wait for its own lock.
constexpr std::array kCommands = {"select", "cut",  "matte", "align",  "montage", "fill", "measure",
                                  "new",    "info", "check", "belong", "render",  "plan", "export"};
constexpr std::size_t kMostJobs = 1'000'000;

Error wrongList(const std::string& path, const std::string& what) {
  return {Code::invalid, path, what};
}

struct Places {
  std::string file, stem, out, work;
};

// Fills {file} and the like; usesWork: {work} was among them.
Result<std::string> filled(const std::string& argument, const Places& places, const std::string& list, bool& usesWork) {
  std::string out;
  for (std::size_t at = 0; at < argument.size();) {
    const std::size_t open = argument.find('{', at), close = argument.find('}', open);
    if (open == std::string::npos || close == std::string::npos) return out + argument.substr(at);
    out += argument.substr(at, open - at);
    const std::string name = argument.substr(open + 1, close - open - 1);
    const std::map<std::string, const std::string*> known{
        {"file", &places.file}, {"stem", &places.stem}, {"out", &places.out}, {"work", &places.work}};
    const auto found = known.find(name);
    if (found == known.end())
      return wrongList(list, "there is no place {" + name + "}; there are {file}, {stem}, {out} and {work}");
    if (found->second->empty())
      return wrongList(list, "{" + name + "} is used, but " + (name == "out" ? "no \"out\" is given" : "the job has no file"));
    usesWork = usesWork || name == "work";
    out += *found->second;
    at = close + 1;
  }
  return out;
}

Result<std::vector<std::vector<std::string>>> stepsFrom(const Json& json, const std::string& list) {
  std::vector<std::vector<std::string>> steps;
  for (const Json& s : json) {
    auto step = s.get<std::vector<std::string>>();
    if (step.empty() || std::find(kCommands.begin(), kCommands.end(), step[0]) == kCommands.end())
      return wrongList(list, step.empty() ? "a step is empty" : "\"" + step[0] + "\" is no command that a step can be");
    steps.push_back(std::move(step));
  }
  if (steps.empty()) return wrongList(list, "a job has no steps");
  return steps;
}

base::Status checkKeys(const Json& json, const std::set<std::string>& known, const std::string& list) {
  if (!json.is_object()) return wrongList(list, "an object is wanted");
  for (const auto& [key, value] : json.items()) {
    if (!known.contains(key)) return wrongList(list, "the key \"" + key + "\" is not known here");
  }
  return {};
}

std::string namedPlace(const std::string& name) {
  std::string safe = name;
  std::replace(safe.begin(), safe.end(), '/', '_');
  return safe;
}

class Reader {
 public:
  explicit Reader(List& list) : list_(list) {}
  base::Status take(const Json& json) {
    HSEAM_DO(checkKeys(json, {"files", "out", "steps", "jobs"}, list_.path));
    if (json.contains("out")) list_.out = inFolder(json.at("out").get<std::string>());
    if (json.contains("files")) {
      if (!json.contains("steps")) return wrongList(list_.path, "\"files\" needs \"steps\"");
      HSEAM_TRY(const auto steps, stepsFrom(json.at("steps"), list_.path));
      for (const Json& f : json.at("files")) {
        const std::string file = inFolder(f.get<std::string>());
        HSEAM_DO(add(fs::path(file).filename().string(), steps, file));
      }
    }
    for (const Json& j : json.value("jobs", Json::array())) {
      HSEAM_DO(checkKeys(j, {"name", "file", "steps"}, list_.path));
      HSEAM_TRY(const auto steps, stepsFrom(j.at("steps"), list_.path));
      const std::string file = j.contains("file") ? inFolder(j.at("file").get<std::string>()) : std::string();
      HSEAM_DO(add(j.at("name").get<std::string>(), steps, file));
    }
    return list_.jobs.empty() ? base::Status(wrongList(list_.path, "there is nothing to do in it")) : base::Status();
  }

 private:
  std::string inFolder(const std::string& path) const { return (fs::path(list_.folder) / path).lexically_normal().string(); }
  base::Status add(const std::string& name, const std::vector<std::vector<std::string>>& steps, const std::string& file) {
    if (name.empty() || !names_.insert(name).second)
      return wrongList(list_.path, name.empty() ? "a job has no name" : "two jobs are called \"" + name + "\"");
    if (list_.jobs.size() >= kMostJobs) return wrongList(list_.path, "a list has at most a million jobs");
    Job job{name, {}, {}};
    const std::string work = (fs::path(list_.out.empty() ? list_.folder : list_.out) / (".work-" + namedPlace(name))).string();
    const Places places{file, fs::path(file).stem().string(), list_.out, work};
    bool usesWork = false;
    for (const auto& step : steps) {
      std::vector<std::string>& own = job.steps.emplace_back();
      for (const std::string& argument : step) {
        HSEAM_TRY(std::string each, filled(argument, places, list_.path, usesWork));
        own.push_back(std::move(each));
      }
    }
    if (usesWork) job.work = work;
    list_.jobs.push_back(std::move(job));
    return {};
  }
  List& list_;
  std::set<std::string> names_;
};

// For a POSIX shell.
std::string quoted(const std::string& argument) {
  const bool plain = !argument.empty() && std::all_of(argument.begin(), argument.end(), [](unsigned char c) {
    return std::isalnum(c) || std::string_view("_-./,=:+@").find(char(c)) != std::string_view::npos;
  });
  if (plain) return argument;
  std::string out = "'";
  for (const char c : argument) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return out + "'";
}

}  // namespace

Result<List> readList(const std::string& path) try {
  std::ifstream file(path, std::ios::binary);
  if (!file)
    return Error{fs::exists(path) ? Code::unreadable : Code::notFound, path,
                 fs::exists(path) ? "the list may not be read" : "there is no such list"};
  const Json json = Json::parse(file, nullptr, false);
  if (json.is_discarded()) return Error{Code::corrupt, path, "the list is no JSON"};
  List list{path, fs::absolute(path).parent_path().lexically_normal().string(), {}, {}};
  HSEAM_DO(Reader(list).take(json));
  return list;
} catch (const Json::exception& e) {
  return wrongList(path, std::string("the list does not read: ") + e.what());
} catch (...) {
  return base::caught(path);
}

std::string stampOf(const List& list, const Job& job) {
  std::uint64_t hash = 1469598103934665603ull;  // FNV-1a, 64 bit
  const auto mix = [&](std::string_view text) {
    for (const char c : text) hash = (hash ^ std::uint8_t(c)) * 1099511628211ull;
    hash = (hash ^ 0xff) * 1099511628211ull;
  };
  for (const auto& step : job.steps) {
    for (const std::string& argument : step) {
      mix(argument);
      // What it is made from. What it makes must not count: it is not there yet when the job begins.
      std::error_code problem;
      const fs::path p = fs::path(list.folder) / argument;
      const bool own =
          (!list.out.empty() && argument.rfind(list.out, 0) == 0) || (!job.work.empty() && argument.rfind(job.work, 0) == 0);
      if (own || argument.empty() || argument[0] == '-' || !fs::is_regular_file(p, problem)) continue;
      mix(std::to_string(fs::file_size(p, problem)));
      mix(std::to_string(fs::last_write_time(p, problem).time_since_epoch().count()));
    }
  }
  return std::to_string(hash);
}

std::string commandLine(const List& list, const Job& job, const std::string& program) {
  std::string line = "cd " + quoted(list.folder);
  if (!list.out.empty()) line += " && mkdir -p " + quoted(list.out);
  if (!job.work.empty()) line += " && mkdir -p " + quoted(job.work);
  for (const auto& step : job.steps) {
    line += " && " + quoted(program);
    for (const std::string& argument : step) line += " " + quoted(argument);
  }
  if (!job.work.empty()) line += " && rm -r " + quoted(job.work);
  return line;
}

}  // namespace hseam::batch

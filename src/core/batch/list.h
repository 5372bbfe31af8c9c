#pragma once
// A list of work on many files: for each, some commands of hseam, one after the other.
//
//   {"files": ["shots/a.jpg", "shots/b.jpg"],          one job each; paths as seen from the list
//    "out": "done",                                    a folder, made if it is not there
//    "steps": [["select", "{file}", "--subject", "--out", "{work}/s.png"],
//              ["cut", "{file}", "--selection", "{work}/s.png", "--cutout", "{out}/{stem}.png"]],
//    "jobs": [{"name": "poster", "steps": [["export", "poster.hseam", "--out", "{out}/poster.jpg"]]}]}   further ones, by hand
//
// {file} is the job's file, {stem} its name without folder and ending, {out} the folder, {work} a folder of the job's own that is
// removed when the job succeeds. "files" needs "steps".

#include <string>
#include <vector>

#include "core/base/error.h"

namespace hseam::batch {

struct Job {
  std::string name;                             // unique in its list: the file's name, or as given
  std::vector<std::vector<std::string>> steps;  // arguments of hseam, places filled in
  std::string work;                             // its folder; empty if no step uses it
};

struct List {
  std::string path;    // of the list
  std::string folder;  // that paths are seen from
  std::string out;     // empty: none is used
  std::vector<Job> jobs;
};

/// Errors: notFound, unreadable, corrupt (no JSON), invalid (unknown keys, a job without steps, two of one name, an unknown place
/// or command).
base::Result<List> readList(const std::string& path);

/// Changes when the job changes: made of its steps and of the sizes and times of change of the files they name.
std::string stampOf(const List& list, const Job& job);

/// A line for a POSIX shell that does the job from any folder; program: the command to use for hseam.
std::string commandLine(const List& list, const Job& job, const std::string& program);

}  // namespace hseam::batch

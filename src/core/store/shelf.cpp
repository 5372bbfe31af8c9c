#include "core/store/shelf.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "core/base/json_text.h"
#include "core/base/text.h"
#include "core/base/whole_file.h"
#include "core/image/picture_file.h"
#include "core/scene/permission_record.h"
#include "core/store/names.h"
#include "core/store/tile_codec.h"

namespace hseam::store {
namespace {

namespace fs = std::filesystem;
using Json = nlohmann::json;

constexpr std::array kShelfKinds = {"place", "sky", "texture"};
constexpr std::uintmax_t kLargestAbout = 1 << 20;
constexpr double kMostPx = 1e6;

Json pairJson(const std::pair<double, double>& p) {
  return {p.first, p.second};
}

Json aboutJson(const ShelfItem& i) {
  Json j = {{"shelf", 1},          {"file", fs::path(i.file).filename().string()},
            {"name", i.name},      {"kind", shelfKindName(i.kind)},
            {"width", i.width},    {"height", i.height},
            {"blur_px", i.blurPx}, {"mid_l", i.midL}};
  if (i.horizonY) j["horizon_y"] = *i.horizonY;
  if (i.light) j["light_ab"] = pairJson(*i.light);
  if (i.lightFromDeg) j["light_from_deg"] = pairJson(*i.lightFromDeg);
  if (i.permission) j["permission"] = scene::permissionJson(*i.permission);
  return j;
}

double within(const Json& value, double low, double high) {
  const double v = value.get<double>();
  if (!(v >= low && v <= high)) throw Json::other_error::create(501, "a number is out of range", nullptr);
  return v;
}

std::pair<double, double> pairFrom(const Json& j) {
  constexpr double kMost = 1000;
  return {within(j.at(0), -kMost, kMost), within(j.at(1), -kMost, kMost)};
}

Result<ShelfItem> readItem(const fs::path& path) try {
  std::error_code problem;
  if (!fs::exists(path, problem)) return Error{Code::notFound, path.string(), "is no longer on the shelf"};
  if (fs::file_size(path, problem) > kLargestAbout || problem)
    return Error{Code::corrupt, path.string(), "is no item of a shelf"};
  std::ifstream in(path, std::ios::binary);
  const Json j = Json::parse(in);
  ShelfItem item;
  item.id = path.stem().string();
  const fs::path file = j.at("file").get<std::string>();
  // A name, not a way to other folders.
  if (file.empty() || file != file.filename()) return Error{Code::corrupt, path.string(), "its picture lies elsewhere"};
  item.file = (path.parent_path() / file).string();
  if (!fs::exists(item.file)) return Error{Code::notFound, item.file, "the picture of the shelf is gone"};
  item.name = base::cleanText(j.at("name").get<std::string>());
  const auto kind = std::find(kShelfKinds.begin(), kShelfKinds.end(), j.value("kind", "place"));
  if (kind == kShelfKinds.end()) return Error{Code::corrupt, path.string(), "is of a kind that no shelf has"};
  item.kind = ShelfKind(kind - kShelfKinds.begin());
  item.width = int(within(j.at("width"), 1, kMostPx));
  item.height = int(within(j.at("height"), 1, kMostPx));
  item.blurPx = within(j.value("blur_px", Json(0)), 0, kMostPx);
  item.midL = within(j.value("mid_l", Json(0)), 0, 100);
  if (j.contains("horizon_y")) item.horizonY = within(j.at("horizon_y"), -kMostPx, kMostPx);
  if (j.contains("light_ab")) item.light = pairFrom(j.at("light_ab"));
  if (j.contains("light_from_deg")) item.lightFromDeg = pairFrom(j.at("light_from_deg"));
  if (j.contains("permission")) {
    item.permission = scene::permissionFrom(j.at("permission"));
    HSEAM_DO(scene::validPermission(*item.permission));
  }
  return item;
} catch (const Json::exception&) {
  return Error{Code::corrupt, path.string(), "is no item of a shelf"};
} catch (...) {
  return base::caught(path.string());
}

}  // namespace

const char* shelfKindName(ShelfKind kind) {
  return kShelfKinds[std::size_t(kind)];
}

Shelf::Listed Shelf::list() const {
  Listed out;
  std::error_code problem;
  for (const auto& entry : fs::directory_iterator(folder_, problem)) {
    if (entry.path().extension() != ".json") continue;
    auto item = readItem(entry.path());
    if (item.ok()) {
      out.items.push_back(std::move(*item));
    } else {
      out.problems.push_back(item.error().text());
    }
  }
  std::sort(out.items.begin(), out.items.end(),
            [](const ShelfItem& a, const ShelfItem& b) { return std::tie(a.name, a.id) < std::tie(b.name, b.id); });
  std::sort(out.problems.begin(), out.problems.end());
  return out;
}

Result<ShelfItem> Shelf::put(std::span<const std::byte> bytes, const std::string& ending, ShelfItem about) const try {
  if (about.name.empty()) return Error{Code::invalid, "", "an item of the shelf needs a name"};
  const bool plain = !ending.empty() && ending.size() <= 5 &&
                     std::all_of(ending.begin(), ending.end(), [](unsigned char c) { return std::isalnum(c); });
  if (!plain || ending == "json") return Error{Code::invalid, about.name, "\"" + ending + "\" is no ending of a picture"};
  std::error_code problem;
  fs::create_directories(folder_, problem);
  if (problem) return Error{Code::unwritable, folder_, "this folder cannot be made: " + problem.message()};
  about.id = hexOf(image::hashOf(bytes)).substr(0, 16);
  about.file = (fs::path(folder_) / (about.id + "." + ending)).string();
  HSEAM_DO(base::writeWhole(about.file, {reinterpret_cast<const char*>(bytes.data()), bytes.size()}));
  HSEAM_DO(base::writeWhole((fs::path(folder_) / (about.id + ".json")).string(), base::jsonText(aboutJson(about), 1)));
  return about;
} catch (...) {
  return base::caught(folder_);
}

Status Shelf::change(const ShelfItem& item) const {
  const std::string path = (fs::path(folder_) / (item.id + ".json")).string();
  if (item.id.empty() || !fs::exists(path)) return Error{Code::notFound, item.name, "is no longer on the shelf"};
  return base::writeWhole(path, base::jsonText(aboutJson(item), 1));
}

Status Shelf::takeOff(const std::string& id) const {
  const fs::path about = fs::path(folder_) / (id + ".json");
  const auto item = readItem(about);
  if (!item.ok()) return item.error();
  std::error_code problem;
  fs::remove(about, problem);
  if (problem) return Error{Code::unwritable, about.string(), "cannot be taken off the shelf: " + problem.message()};
  fs::remove(item->file, problem);
  return {};
}

}  // namespace hseam::store

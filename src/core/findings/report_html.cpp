
#include "core/base/html.h"
#include "core/findings/judge.h"

namespace hseam::findings {
std::string reportHtml(const Report& report, const std::string& title, const std::vector<ReportPicture>& pictures,
                       const std::vector<ReportPicture>& views) {
  std::string h =
      "<!DOCTYPE html><html><head><meta charset=\"utf-8\"><title>" + base::htmlText(title) +
      "</title><style>body{font-family:Inter,sans-serif;color:#222;max-width:60em;margin:2em auto}table{border-collapse:collapse}"
      "td,th{padding:.2em .8em .2em 0;text-align:left;border-bottom:1px solid #ccc}.quiet{color:#777}</style></head><body>";
  h += "<h1>" + base::htmlText(title) + "</h1><p>Tightness " + textOf(Figure{report.tightness, 0}) + " of 100.</p>";
  h += "<table><tr><th>layer</th><th>tightness</th><th>made up of</th></tr>";
  for (const LayerTightness& l : report.layers)
    h += "<tr><td>" + base::htmlText(l.name) + "</td><td>" + textOf(Figure{l.tightness, 0}) + "</td><td>" +
         base::htmlText(makeUpOf(report, l.layer)) + "</td></tr>";
  h += "</table>";
  h += report.findings.empty() ? "<p>Nothing gives it away.</p>" : "<h2>What gives it away</h2>";
  for (std::size_t i = 0; i < report.findings.size(); ++i) {
    const Verdict& v = report.findings[i];
    h += "<h3>" + std::to_string(i + 1) + ". " + base::htmlText(v.layerName) + ": " + kindOf(v.kind).name + "</h3>";
    if (i < pictures.size() && !pictures[i].source.empty())
      h += "<p><img src=\"" + pictures[i].source + "\" alt=\"" + base::htmlText(pictures[i].words) + "\"></p>";
    h += "<p>" + base::htmlText(v.sentence.text()) + "</p><p>Reading " + textOf(Figure{v.reading, 2}) + " " +
         kindOf(v.kind).unit + ", tolerance " + textOf(Figure{v.tolerance, 2}) + ", " + textOf(Figure{v.excess, 1}) +
         " times out.</p>";
    for (const Remedy& r : v.remedies) h += "<p>Remedy: " + base::htmlText(r.label.text()) + ".</p>";
  }
  if (!report.answered.empty()) {
    h += "<h2>Answered</h2><ul>";
    for (const Answer& a : report.answered)
      h += "<li>" + base::htmlText(a.layerName) + ", " + kindOf(a.kind).name + ": " +
           (a.wrong ? "the reading is wrong" : base::htmlText(a.reason)) + "</li>";
    h += "</ul>";
  }
  if (!views.empty()) h += "<h2>The scene with other eyes</h2>";
  for (const ReportPicture& v : views)
    h += "<h3>" + base::htmlText(v.words) + "</h3><p><img src=\"" + v.source + "\" alt=\"" + base::htmlText(v.words) + "\"></p>";
  h += "<h2>All readings</h2><table><tr><th>layer</th><th>reading</th><th>value</th><th>spread</th><th>out by</th></tr>";
  for (const Verdict& v : report.readings) {
    h += std::string("<tr") + (v.quiet ? " class=\"quiet\"" : "") + "><td>" + base::htmlText(v.layerName) + "</td><td>" +
         kindOf(v.kind).name + "</td>";
    if (v.available) {
      h += "<td>" + textOf(Figure{v.reading, 2}) + " " + kindOf(v.kind).unit + "</td><td>" + textOf(Figure{v.spread, 2}) +
           "</td><td>" + textOf(Figure{v.excess, 2}) + (v.quiet ? ", answered" : "") + "</td></tr>";
    } else {
      h += "<td colspan=\"3\">can't tell: " + base::htmlText(v.reason.text()) + "</td></tr>";
    }
  }
  return h + "</table></body></html>";
}

}  // namespace hseam::findings

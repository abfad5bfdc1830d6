// The sheets that a template takes.
#pragma once

#include "desk.h"
#include "lens.h"
#include "template_pdf.h"

namespace rt {

class SheetsLens : public Lens {
 public:
  explicit SheetsLens(const Desk& desk) : desk_(desk) {}
  /// Worked out when the layout or the options change, not while painting.
  void show(const std::vector<TemplateTile>& tiles);
  void paint(QPainter& painter, const Eye& eye) override;

 private:
  const Desk& desk_;
  std::vector<TemplateTile> tiles_;
};

}  // namespace rt

#include "placed_layout.h"

#include "error.h"
#include "json_reading.h"
#include "length.h"

namespace rt {
namespace {

constexpr double kLeastScale = 0.5, kMostScale = 2, kMostSkew_deg = 45, kMostTurn_deg = 360;
constexpr double kMostMove_mm = 100'000;

double within(const Json& o, const char* key, double low, double high, const std::string& where) {
  const double v = numberIn(o, key, where);
  if (!(v >= low && v <= high))
    throw Error(std::string(key) + " is " + formatNumber(v, 3), where,
                "give " + formatNumber(low, 1) + " to " + formatNumber(high, 1));
  return v;
}

}  // namespace

Transform LaidPlace::toHoop() const {
  const Transform skew{1, std::tan(radians(skew_deg)), 0, 1, 0, 0};
  return Transform::moving({dx_mm, dy_mm}) * Transform::turning(rotation_deg) *
         Transform::scaling(scale_x, scale_y) * skew;
}

LaidPlace readPlace(const std::filesystem::path& file) {
  const std::string where = file.string();
  const Json a = readJson(file);
  if (!a.is_object()) throw Error("this is no alignment", where, "give what align --json printed");
  LaidPlace out;
  const std::string fit = textIn(a, "fit", where), status = textIn(a, "status", where);
  bool known = false;
  for (FitKind k : {FitKind::Rigid, FitKind::Similarity, FitKind::Affine})
    if (name(k) == fit) out.kind = k, known = true;
  if (!known)
    throw Error("fit is \"" + fit.substr(0, 40) + "\"", where, "rigid, similarity or affine");
  known = false;
  for (Readiness r : {Readiness::Ready, Readiness::Check, Readiness::Rehoop})
    if (name(r) == status) out.status = r, known = true;
  if (!known)
    throw Error("status is \"" + status.substr(0, 40) + "\"", where, "ready, check or rehoop");
  out.dx_mm = within(a, "dx_mm", -kMostMove_mm, kMostMove_mm, where);
  out.dy_mm = within(a, "dy_mm", -kMostMove_mm, kMostMove_mm, where);
  out.rotation_deg = within(a, "rotation_deg", -kMostTurn_deg, kMostTurn_deg, where);
  out.scale_x = within(a, "scale_x", kLeastScale, kMostScale, where);
  out.scale_y = within(a, "scale_y", kLeastScale, kMostScale, where);
  out.skew_deg = within(a, "skew_deg", -kMostSkew_deg, kMostSkew_deg, where);
  return out;
}

LaidPlace placedAs(LaidPlace place, FitKind kind) {
  place.kind = kind;
  if (kind != FitKind::Affine) place.skew_deg = 0;
  if (kind == FitKind::Rigid) place.scale_x = place.scale_y = 1;
  return place;
}

}  // namespace rt

#include "edge/faces_meet.h"

#include <algorithm>

namespace bq::inline edge {

bool faces_meet(const std::vector<SurfacePiece>& left, const std::vector<SurfacePiece>& right,
                double bottom_mm) {
  const double start = bottom_mm + 1e-6;
  std::size_t l = 0, r = 0;
  double from = bottom_mm;
  while (l < left.size() && r < right.size()) {
    const double to = std::min(left[l].to_mm, right[r].to_mm);
    const auto thickness = [&](double h) { return left[l].y(h) + right[r].y(h); };
    if (to > start) {
      if (thickness(to) <= 0) return true;
      if (left[l].shape == SurfacePiece::Shape::hollow ||
          right[r].shape == SurfacePiece::Shape::hollow) {
        double a = std::max(from, start), b = to;  // thickness has one least place here
        for (int i = 0; i < 60; ++i) {
          const double one = a + (b - a) / 3, two = b - (b - a) / 3;
          if (thickness(one) < thickness(two))
            b = two;
          else
            a = one;
        }
        if (thickness(0.5 * (a + b)) <= 0) return true;
      }
    }
    if (left[l].to_mm <= to) ++l;
    if (r < right.size() && right[r].to_mm <= to) ++r;
    from = to;
  }
  return false;
}

}  // namespace bq::inline edge

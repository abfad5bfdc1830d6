#include "day_calendar.h"

#include <algorithm>

namespace rt {

DaySpans joined(DaySpans spans) {
  std::erase_if(spans, [](const DaySpan& s) { return s.to <= s.from; });
  std::sort(spans.begin(), spans.end(),
            [](const DaySpan& a, const DaySpan& b) { return a.from < b.from; });
  DaySpans out;
  for (const DaySpan& s : spans)
    if (!out.empty() && s.from <= out.back().to)
      out.back().to = std::max(out.back().to, s.to);
    else
      out.push_back(s);
  return out;
}

DaySpans without(const DaySpans& spans, const DaySpans& but) {
  DaySpans out;
  for (DaySpan s : spans) {
    for (const DaySpan& b : but) {
      if (b.to <= s.from || b.from >= s.to) continue;
      if (b.from > s.from) out.push_back({s.from, b.from});
      s.from = std::min(b.to, s.to);
    }
    if (s.from < s.to) out.push_back(s);
  }
  return out;
}

DaySecond lengthBefore(const DaySpans& spans, DaySecond at) {
  DaySecond sum = 0;
  for (const DaySpan& s : spans) {
    if (s.from >= at) break;
    sum += std::min(s.to, at) - s.from;
  }
  return sum;
}

DayCalendar::DayCalendar(const Day& day) {
  const DaySecond midnight = day.from - ((day.from % kDay_s) + kDay_s) % kDay_s;
  DaySpans hours, days;
  for (int d = 0; d < day.days; ++d) {
    const DaySecond at = midnight + d * kDay_s;
    for (const DaySpan& h : day.hours) hours.push_back({at + h.from, at + h.to});
    if (!day.hours.empty()) days.push_back({at + day.hours.front().from, at + day.hours.back().to});
  }
  auto fromNow = [&](DaySpans spans) {
    for (DaySpan& s : spans) s.from = std::max(s.from, day.from);
    return joined(std::move(spans));
  };
  hours = fromNow(hours);
  end_ = hours.empty() ? day.from : hours.back().to;
  const DaySpans alone = day.sews_alone == SewsAlone::Never    ? hours
                         : day.sews_alone == SewsAlone::Breaks ? fromNow(days)
                                                               : DaySpans{{day.from, end_}};
  auto closedOf = [&](int DayClosed::*whose, int index) {
    DaySpans out;
    for (const DayClosed& c : day.closed)
      if (c.*whose == index) out.push_back(c.span);
    return joined(std::move(out));
  };
  for (int h = 0; h < day.hands; ++h)
    hands_.push_back(without(hours, closedOf(&DayClosed::hand, h)));
  for (int m = 0; m < static_cast<int>(day.machines.size()); ++m) {
    closed_.push_back(closedOf(&DayClosed::machine, m));
    sewing_.push_back(without(alone, closed_.back()));
  }
}

DaySpans DayCalendar::open(int machine) const {
  DaySpans all = sewing(machine);
  for (const DaySpans& hand : hands_) all.insert(all.end(), hand.begin(), hand.end());
  return without(joined(std::move(all)), closed(machine));
}

namespace {

DaySpans::const_iterator firstEndingAfter(const DaySpans& spans, DaySecond at) {
  return std::upper_bound(spans.begin(), spans.end(), at,
                          [](DaySecond t, const DaySpan& s) { return t < s.to; });
}

}  // namespace

std::optional<DaySecond> firstFit(const DaySpans& free, DaySecond ready, DaySecond length) {
  for (auto s = firstEndingAfter(free, ready); s != free.end(); ++s) {
    const DaySecond from = std::max(s->from, ready);
    if (from + length <= s->to) return from;
  }
  return std::nullopt;
}

std::optional<DaySpan> sewnWithin(const DaySpans& open, DaySecond ready, DaySecond length) {
  std::optional<DaySpan> out;
  for (auto s = firstEndingAfter(open, ready); s != open.end(); ++s) {
    const DaySecond from = std::max(s->from, ready);
    if (!out) out = DaySpan{from, from};
    if (length <= s->to - from) {
      out->to = from + length;
      return out;
    }
    length -= s->to - from;
  }
  return std::nullopt;
}

void take(DaySpans& free, DaySpan span) {
  if (span.to <= span.from) return;
  const auto at = free.begin() + (firstEndingAfter(free, span.from) - free.cbegin());
  const DaySpan whole = *at;
  if (whole.from < span.from && span.to < whole.to) {
    at->to = span.from;
    free.insert(at + 1, {span.to, whole.to});
  } else if (whole.from < span.from) {
    at->to = span.from;
  } else if (span.to < whole.to) {
    at->from = span.to;
  } else {
    free.erase(at);
  }
}

}  // namespace rt

#include "learning_words.h"

#include "length.h"

namespace rt {
namespace {

std::string missingWords(size_t more) {
  return std::to_string(more) + " more before a limit moves";
}

}  // namespace

std::string inWords(const LearnedLimit& l) {
  const std::string counts = std::to_string(l.fine) + " fine, " + std::to_string(l.puckered) +
                             " puckered, " + std::to_string(l.broke) + " broke: ";
  if (l.missing > 0) return counts + missingWords(l.missing);
  if (!l.enough) return counts + "the limits in force judge them best";
  return counts + "fewest errors at check " + formatNumber(l.limit.check, 2) + ", stop " +
         formatNumber(l.limit.stop, 2);
}

std::string inWords(const LearnedLeast& l) {
  const std::string counts =
      std::to_string(l.held) + " held, " + std::to_string(l.failed) + " did not: ";
  if (l.missing > 0) return counts + missingWords(l.missing);
  return counts + (l.enough ? "from " + formatNumber(l.least_mm, 2) + " mm"
                            : std::string("what is in force judges them best"));
}

}  // namespace rt

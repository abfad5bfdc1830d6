// Without options: replays the corpus, one line a target. With `--seconds N [--target NAME] [--seed
// N]`: changes corpus files at random and reads them; a file that fails is kept beside the program.
#include <QCoreApplication>
#include <chrono>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <random>

#include "error.h"
#include "file_io.h"
#include "targets.h"

using namespace rt;

namespace {

std::vector<std::string> corpusOf(const std::string& target) {
  std::vector<std::string> out;
  std::error_code ignored;
  std::vector<std::filesystem::path> files;
  for (const auto& f : std::filesystem::directory_iterator(RT_CORPUS "/" + target, ignored))
    files.push_back(f.path());
  std::sort(files.begin(), files.end());
  for (const auto& f : files) out.push_back(readFile(f));
  return out;
}

/// True if the reader did what it must.
bool reads(const fuzz::Target& target, const std::string& bytes) {
  try {
    target.read(bytes);
    return true;
  } catch (const Error& e) {
    if (!std::string(e.what()).empty()) return true;
    std::fprintf(stderr, "%s: an error without words\n", target.name);
  } catch (const std::exception& e) {
    std::fprintf(stderr, "%s: not an Error: %s\n", target.name, e.what());
  }
  return false;
}

std::string changed(std::string bytes, const std::vector<std::string>& corpus,
                    std::mt19937& random) {
  const int changes = 1 + static_cast<int>(random() % 8);
  for (int i = 0; i < changes; ++i) {
    const size_t at = bytes.empty() ? 0 : random() % bytes.size();
    switch (random() % 7) {
      case 0:
        if (!bytes.empty()) bytes[at] = static_cast<char>(random());
        break;
      case 1:
        bytes.insert(at, 1, static_cast<char>(random()));
        break;
      case 2:
        bytes.erase(at, random() % 20);
        break;
      case 3:
        bytes.resize(at);
        break;
      case 4: {
        const std::string part = bytes.substr(at, random() % 60);
        bytes.insert(bytes.empty() ? 0 : random() % bytes.size(), part);
        break;
      }
      case 5: {
        static const char* const kOdd[] = {"1e300",    "-1",     "nan", "9223372036854775808",
                                           "0",        "{",      "[[",  "\"",
                                           "\xff\xfe", "\n",     "<g>", "null",
                                           "e",        "1e-300", ","};
        bytes.insert(at, kOdd[random() % std::size(kOdd)]);
        break;
      }
      default: {
        const std::string& other = corpus[random() % corpus.size()];
        if (!other.empty()) bytes.insert(at, other.substr(random() % other.size(), random() % 80));
      }
    }
  }
  if (bytes.size() > 1 << 20) bytes.resize(1 << 20);
  return bytes;
}

int replay() {
  int passed = 0, failed = 0;
  for (const fuzz::Target& target : fuzz::targets()) {
    const std::vector<std::string> corpus = corpusOf(target.name);
    if (corpus.empty()) {
      std::fprintf(stderr, "%s has no corpus\n", target.name);
      ++failed;
    }
    for (const std::string& bytes : corpus) ++(reads(target, bytes) ? passed : failed);
  }
  std::printf("%d passed, %d failed\n", passed, failed);
  return failed == 0 ? 0 : 1;
}

int hunt(double seconds, const std::string& only, unsigned seed) {
  std::mt19937 random(seed);
  int failed = 0;
  for (const fuzz::Target& target : fuzz::targets()) {
    if (!only.empty() && only != target.name) continue;
    const std::vector<std::string> corpus = corpusOf(target.name);
    if (corpus.empty()) continue;
    const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(seconds);
    long count = 0;
    while (std::chrono::steady_clock::now() < end) {
      const std::string bytes = changed(corpus[random() % corpus.size()], corpus, random);
      // kept before it is read: a crash leaves it behind
      std::ofstream("fuzz-last", std::ios::binary) << bytes;
      ++count;
      if (reads(target, bytes)) continue;
      std::ofstream(std::string("fuzz-failed-") + target.name, std::ios::binary) << bytes;
      ++failed;
    }
    std::printf("%s: %ld read, seed %u\n", target.name, count, seed);
  }
  return failed == 0 ? 0 : 1;
}

}  // namespace

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  const QStringList words = QCoreApplication::arguments();
  auto after = [&](const char* option) {
    const qsizetype i = words.indexOf(QLatin1String(option));
    return i < 0 ? QString() : words.value(i + 1);
  };
  if (after("--seconds").isEmpty()) return replay();
  return hunt(after("--seconds").toDouble(), after("--target").toStdString(),
              after("--seed").isEmpty() ? std::random_device()() : after("--seed").toUInt());
}

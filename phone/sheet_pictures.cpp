#include "sheet_pictures.h"

#include <poppler-qt6.h>

#include <QBuffer>
#include <QFile>
#include <QImage>
#include <QTemporaryDir>

#include "desk.h"
#include "error.h"
#include "paperwork.h"

namespace rt {
namespace {

constexpr double kDotsPerInch = 110;

}  // namespace

void SheetPictures::make(const Desk& desk) {
  if (!desk.planCurrent())
    throw Error("there is no current plan", "sheets", "plan the hoopings in the window");
  const std::vector<int> done = desk.hoopingsSewn();
  std::string of = desk.madePlan()->id;
  for (int h : done) of += " " + std::to_string(h);
  if (of == of_) return;
  const QTemporaryDir folder;
  const QString path = folder.filePath(QStringLiteral("sheets.pdf"));
  const HoopingSheets sheets = writeHoopingSheets(
      *desk.plan(), hoopingSheetsOf(desk.job(), desk.bench(), done), path.toStdString());
  QFile file(path);
  if (!file.open(QIODevice::ReadOnly))
    throw Error("the sheets cannot be read again", path.toStdString(), "try again");
  pdf_ = file.readAll();
  pages_.clear();
  for (size_t i = 0; i < sheets.sheets.size(); ++i) {
    const int next = i + 1 < sheets.sheets.size() ? sheets.sheets[i + 1].page : sheets.pages + 1;
    auto& [first, count] = pages_[sheets.sheets[i].hooping];
    if (count == 0) first = sheets.sheets[i].page;
    count += next - sheets.sheets[i].page;
  }
  of_ = of;
}

int SheetPictures::pages(const Desk& desk, int hooping) {
  make(desk);
  const auto found = pages_.find(hooping);
  return found == pages_.end() ? 0 : found->second.second;
}

QByteArray SheetPictures::page(const Desk& desk, int hooping, int page) {
  if (page < 1 || page > pages(desk, hooping)) return {};
  const auto document = Poppler::Document::loadFromData(pdf_);
  if (!document) return {};
  document->setRenderHint(Poppler::Document::Antialiasing);
  document->setRenderHint(Poppler::Document::TextAntialiasing);
  const auto sheet = document->page(pages_[hooping].first + page - 2);
  if (!sheet) return {};
  QByteArray out;
  QBuffer buffer(&out);
  buffer.open(QIODevice::WriteOnly);
  sheet->renderToImage(kDotsPerInch, kDotsPerInch).save(&buffer, "PNG");
  return out;
}

}  // namespace rt

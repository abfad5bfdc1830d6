#include "tool_shelf.h"

#include <QGridLayout>

#include "fields.h"

namespace rt {
namespace {

constexpr int kMostInARow = 5;

}  // namespace

ToolShelf::ToolShelf(QWidget* parent) : QWidget(parent), row_(new QWidget) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  auto* rows = new QGridLayout(row_);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(2);
  column->addWidget(row_);
}

void ToolShelf::add(const QString& name, const QString& key, QWidget* tool) {
  auto* b = button(name, tr("Show this tool"));
  b->setProperty("flat", true);
  b->setCheckable(true);
  b->setObjectName(QStringLiteral("tool") + key);
  layout()->addWidget(tool);
  tool->hide();
  tools_.push_back({b, tool, true});
  layNames();
  connect(b, &QPushButton::clicked, this, [this, tool] { open(tool); });
}

/// In one row, or in two of the same length where one would clip them.
void ToolShelf::layNames() {
  auto* rows = static_cast<QGridLayout*>(row_->layout());
  const int count = static_cast<int>(tools_.size());
  const int each = count > kMostInARow ? (count + 1) / 2 : count;
  for (int i = 0; i < count; ++i)
    rows->addWidget(tools_[static_cast<size_t>(i)].button, i / each, i % each);
}

QPushButton* ToolShelf::buttonOf(const QWidget* tool) const {
  for (const Tool& t : tools_)
    if (t.widget == tool) return t.button;
  return nullptr;
}

void ToolShelf::setAvailable(QWidget* tool, bool available) {
  for (Tool& t : tools_)
    if (t.widget == tool) {
      t.available = available;
      t.button->setVisible(available);
    }
  QWidget* to = nullptr;  // what is wanted, else what stands, else the first that makes sense
  for (const Tool& t : tools_)
    if (t.available && (t.widget == wanted_ || (!to && t.widget == shown_))) to = t.widget;
  for (const Tool& t : tools_)
    if (!to && t.available) to = t.widget;
  show(to);
}

void ToolShelf::open(QWidget* tool) {
  wanted_ = tool;
  for (const Tool& t : tools_)
    if (t.widget == tool && t.available) show(tool);
}

void ToolShelf::suggest(QWidget* tool) {
  for (const Tool& t : tools_)
    if (t.widget == wanted_ && t.available) return;
  for (const Tool& t : tools_)
    if (t.widget == tool && t.available) show(tool);
}

QWidget* ToolShelf::opened() const {
  return shown_;
}

void ToolShelf::show(QWidget* tool) {
  const bool another = tool != shown_;
  shown_ = tool;
  for (const Tool& t : tools_) {
    t.widget->setVisible(t.widget == tool);
    t.button->setChecked(t.widget == tool);
  }
  if (another && tool) emit openedTool(tool);
}

Fold::Fold(const QString& title, const QString& key, QWidget* content, QWidget* parent)
    : QWidget(parent), header_(button(title, tr("Show or hide this"))), content_(content) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  header_->setProperty("flat", true);
  header_->setObjectName(QStringLiteral("fold") + key);
  header_->setStyleSheet(QStringLiteral("text-align:left"));
  column->addWidget(header_);
  column->addWidget(content_);
  connect(header_, &QPushButton::clicked, this, [this] { setOpen(!open_); });
  title_ = title;
  setOpen(false);
}

void Fold::setTitle(const QString& title) {
  title_ = title;
  setOpen(open_);
}

void Fold::setOpen(bool open) {
  open_ = open;
  content_->setVisible(open);
  // the sign stands in the text, so that it is read aloud too
  header_->setText((open ? QStringLiteral("▾  ") : QStringLiteral("▸  ")) + title_);
  header_->setAccessibleName(open ? tr("%1, open").arg(title_) : tr("%1, folded").arg(title_));
}

}  // namespace rt

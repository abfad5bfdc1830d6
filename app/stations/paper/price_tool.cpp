#include "price_tool.h"

#include <QDate>

#include "order_usage.h"
#include "page_view.h"
#include "paperwork.h"

namespace rt {

PriceTool::PriceTool(Desk& desk, FileAsker& asker)
    : desk_(desk),
      asker_(asker),
      pieces_(new QSpinBox),
      set_(new QSpinBox),
      beside_(new QLineEdit(QStringLiteral("1, 10, 50"))),
      blank_(new QDoubleSpinBox),
      figure_(new QDoubleSpinBox),
      wish_(new QComboBox),
      table_(new QGridLayout),
      words_(paragraph({}, true)),
      forCustomer_(button(tr("Quote …"), tr("Pieces and price, as PDF"), true)),
      forShop_(button(tr("With costs …"), tr("All lines and what was taken for granted, as PDF"))),
      card_(new CardTool(desk)),
      rates_(new RatesTool(desk)) {
  setUpFields();
  layOut();
  connectAll();
}

void PriceTool::setUpFields() {
  for (QAbstractSpinBox* box : std::initializer_list<QAbstractSpinBox*>{pieces_, blank_, figure_})
    box->setButtonSymbols(QAbstractSpinBox::NoButtons);  // typed; the arrow keys step
  pieces_->setRange(1, 100000);
  set_->setRange(1, 1000);
  set_->setButtonSymbols(QAbstractSpinBox::NoButtons);
  set_->setObjectName(QStringLiteral("quoteSet"));
  set_->setAccessibleName(tr("Pieces of a set"));
  pieces_->setObjectName(QStringLiteral("quotePieces"));
  pieces_->setAccessibleName(tr("Pieces of the order"));
  beside_->setObjectName(QStringLiteral("quoteBeside"));
  beside_->setAccessibleName(tr("Other quantities to offer"));
  beside_->setToolTip(tr("Numbers of pieces with commas between; each has a line of the quote"));
  blank_->setObjectName(QStringLiteral("quoteBlank"));
  blank_->setAccessibleName(tr("Cost of one blank"));
  figure_->setObjectName(QStringLiteral("quoteFigure"));
  figure_->setAccessibleName(tr("Margin or price"));
  wish_->setObjectName(QStringLiteral("quoteWish"));
  wish_->setAccessibleName(tr("What the price follows from"));
  forCustomer_->setObjectName(QStringLiteral("writeQuote"));
  forShop_->setObjectName(QStringLiteral("writeCosts"));
  blank_->setRange(0, 1e6);
  figure_->setRange(0, 1e7);
  wish_->addItems({tr("Usual margin"), tr("Margin, %"), tr("Price of all")});
}

void PriceTool::layOut() {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(6);
  column->addWidget(pair(labelled(tr("Pieces"), pieces_), labelled(tr("Also offer"), beside_)));
  column->addWidget(
      pair(labelled(tr("One blank costs"), blank_), labelled(tr("Pieces of a set"), set_)));
  column->addWidget(pair(wish_, figure_));
  table_->setHorizontalSpacing(10);
  table_->setVerticalSpacing(3);
  column->addLayout(table_);
  auto* look = PageView::button(desk_, asker_, [this] {
    return PaperToLookAt{tr("Quote"), QStringLiteral("quote.pdf"),
                         [this](const QString& path) { writeQuote(quoted(), path.toStdString()); }};
  });
  look->setObjectName(QStringLiteral("previewQuote"));
  column->addWidget(pair(pair(forCustomer_, forShop_), look));
  column->addWidget(words_);
  column->addWidget(new Fold(tr("On the quote"), QStringLiteral("Card"), card_));
  column->addWidget(new Fold(tr("What the shop pays"), QStringLiteral("Rates"), rates_));
}

void PriceTool::connectAll() {
  for (QSpinBox* box : {pieces_, set_})
    connect(box, &QSpinBox::valueChanged, this, &PriceTool::show);
  connect(beside_, &QLineEdit::textEdited, this, &PriceTool::show);
  connect(card_, &CardTool::changed, this, &PriceTool::show);
  for (QDoubleSpinBox* box : {blank_, figure_})
    connect(box, &QDoubleSpinBox::valueChanged, this, &PriceTool::show);
  connect(wish_, &QComboBox::activated, this, &PriceTool::show);
  connect(rates_, &RatesTool::changed, this, &PriceTool::show);
  connect(forCustomer_, &QPushButton::clicked, this, [this] { write(false); });
  connect(forShop_, &QPushButton::clicked, this, [this] { write(true); });
}

QuoteOptions PriceTool::optionsFor(int pieces) const {
  QuoteOptions o;
  o.pieces = pieces;
  o.blank = blank_->value();
  o.set = set_->value();
  const auto wish = static_cast<Wish>(wish_->currentIndex());
  if (wish == Wish::Margin) o.margin = figure_->value() / 100;
  if (wish == Wish::Price) o.price = figure_->value() * pieces / pieces_->value();
  return o;
}

/// Quantities that are asked for besides the order's own. Throws Error for what is no number.
std::vector<int> PriceTool::beside() const {
  std::vector<int> out;
  for (const QString& part : beside_->text().split(QChar(','), Qt::SkipEmptyParts)) {
    bool number = false;
    const int pieces = part.trimmed().toInt(&number);
    if (!number || pieces < 1 || pieces > 100000)
      throw Error(tr("\"%1\" is no number of pieces").arg(part.trimmed()).toStdString(),
                  tr("Also offer").toStdString(), tr("write numbers like 1, 10, 50").toStdString());
    out.push_back(pieces);
  }
  return out;
}

QuotePaper PriceTool::quoted() const {
  const QDate today = QDate::currentDate();
  const int set = set_->value();
  QuoteWish wish{optionsFor((pieces_->value() + set - 1) / set * set), beside()};
  return quotePaperOf(desk_.job(), desk_.layout(), desk_.planCurrent() ? desk_.plan() : nullptr,
                      desk_.bench(), desk_.rates(), desk_.shop().card(), wish,
                      std::chrono::year{today.year()} / today.month() / today.day());
}

void PriceTool::show() {
  clear(*table_);
  figure_->setEnabled(wish_->currentIndex() > 0);
  const bool any = !desk_.layout().stitches.empty();
  forCustomer_->setEnabled(any);
  forShop_->setEnabled(any);
  if (!any) return words_->setText(tr("Lay something out first (2)."));
  try {
    QuotePaper q = quoted();
    constexpr size_t kBeside = 3;  // what the panel is wide enough for; the paper has all
    if (q.columns.size() > kBeside) q.columns.resize(kBeside);
    int row = 0;
    const auto add = [&](const QString& name, auto&& figure, bool strong = false) {
      auto* label = new QLabel(name.section(QChar(':'), 0, 0));  // the rest is a hover away
      label->setToolTip(name);
      label->setFont(look::text(9.5, strong));
      table_->addWidget(label, row, 0);
      for (size_t c = 0; c < q.columns.size(); ++c) {
        auto* cell = new QLabel(figure(q.columns[c]));
        cell->setFont(look::figures(9.5, strong));
        cell->setAlignment(Qt::AlignRight);
        table_->addWidget(cell, row, static_cast<int>(c) + 1);
      }
      ++row;
    };
    using Column = QuotePaper::Column;
    const auto money = [](double amount) { return QString::fromStdString(moneyWords(amount)); };
    add(
        QString::fromStdString(q.currency),
        [](const Column& c) {
          return counted(static_cast<size_t>(c.pieces), tr("piece"), tr("pieces"));
        },
        true);
    for (size_t i = 0; i < q.names.size(); ++i)
      add(QString::fromStdString(q.names[i]),
          [&](const Column& c) { return money(c.quote.lines[i].cost); });
    add(
        tr("cost"), [&](const Column& c) { return money(c.quote.cost); }, true);
    add(set_->value() > 1 ? tr("asked for a set of %1").arg(set_->value()) : tr("asked for each"),
        [&](const Column& c) { return money(c.offer.each); });
    add(
        tr("asked together"), [&](const Column& c) { return money(c.offer.together); }, true);
    if (desk_.shop().card().tax > 0)
      add(tr("to pay: with %1").arg(QString::fromStdString(desk_.shop().card().tax_name)),
          [&](const Column& c) { return money(c.offer.with_tax); });
    add(tr("margin"),
        [&](const Column& c) { return tr("%1 %").arg(c.quote.margin * 100, 0, 'f', 1); });
    add(tr("minutes"), [&](const Column& c) { return QString::number(c.quote.minutes, 'f', 0); });
    QStringList granted;
    for (const std::string& a : q.assumptions) granted << QString::fromStdString(a);
    words_->setText(breakEven(q) + QChar(' ') +
                    tr("Taken for granted: %1; %2.")
                        .arg(granted.join(QStringLiteral("; ")),
                             desk_.ratesAreOwn() ? tr("the shop's own rates")
                                                 : tr("rates as they ship: see below")));
  } catch (const std::exception& problem) {
    words_->setText(QString::fromUtf8(problem.what()));
  }
}

/// From how many pieces what the first column asks for each pays.
QString PriceTool::breakEven(const QuotePaper& paper) const {
  const double each = paper.columns.front().offer.each;
  if (!(each > 0)) return {};
  const Order order = orderOf(desk_.layout(), desk_.job().brief.fabric,
                              desk_.planCurrent() ? desk_.plan() : nullptr, desk_.bench());
  const auto pieces =
      breakEvenPieces(order.usage, desk_.rates(), optionsFor(paper.columns.front().pieces), each);
  const QString asked = QString::fromStdString(moneyWords(each));
  return pieces ? tr("At %1 each it pays from %2 on.")
                      .arg(asked, counted(static_cast<size_t>(*pieces), tr("piece"), tr("pieces")))
                : tr("At %1 each it never pays.").arg(asked);
}

void PriceTool::write(bool inner) {
  const QString path = inner ? asker_.toSave(this, tr("Write the costs"),
                                             QStringLiteral("costs.pdf"), tr("PDF (*.pdf)"))
                             : asker_.toSave(this, tr("Write the quote"),
                                             QStringLiteral("quote.pdf"), tr("PDF (*.pdf)"));
  if (path.isEmpty()) return;
  guarded(desk_, [&] {
    if (inner)
      writeCosts(quoted(), path.toStdString());
    else
      writeQuote(quoted(), path.toStdString());
    desk_.say((inner ? tr("Costs written to %1.") : tr("Quote written to %1.")).arg(path));
  });
}

void PriceTool::refresh() {
  card_->refresh();
  show();
}

}  // namespace rt

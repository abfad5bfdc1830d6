#include "phone_dialog.h"

#include <QNetworkInterface>
#include <QPainter>

#include "fields.h"
#include "phone.h"
#include "qr_code.h"
#include "station.h"

namespace rt {
namespace {

constexpr int kCode_px = 264, kQuiet_cells = 4, kLooks_ms = 1000;

/// Whole pixels a cell, black on white whatever the look is: cameras want it so.
QPixmap codePicture(const QString& text) {
  const QrCode code = qrCodeOf(text.toStdString());
  const int cells = code.size + 2 * kQuiet_cells;
  const int cell = std::max(1, kCode_px / cells);
  QPixmap out(cells * cell, cells * cell);
  out.fill(Qt::white);
  QPainter p(&out);
  for (int y = 0; y < code.size; ++y)
    for (int x = 0; x < code.size; ++x)
      if (code.at(x, y))
        p.fillRect((x + kQuiet_cells) * cell, (y + kQuiet_cells) * cell, cell, cell, Qt::black);
  return out;
}

}  // namespace

PhoneDialog::PhoneDialog(Desk& desk, Phone& phone, QWidget* parent)
    : QDialog(parent),
      desk_(desk),
      phone_(phone),
      code_(new QLabel),
      whom_(paragraph({})),
      phones_(paragraph({}, true)),
      fingerprint_(paragraph({}, true)),
      link_(new QLineEdit),
      addresses_(new QComboBox),
      open_(button(tr("Open the page"), tr("Serve it on the chosen address"), true)),
      renew_(button(tr("New code"), tr("Phones that have the code of before are put off"))) {
  setWindowTitle(tr("Phone at the machine"));
  setObjectName(QStringLiteral("phoneDialog"));
  open_->setObjectName(QStringLiteral("openPhone"));
  renew_->setObjectName(QStringLiteral("renewPhone"));
  addresses_->setObjectName(QStringLiteral("phoneAddress"));
  link_->setObjectName(QStringLiteral("phoneLink"));
  whom_->setObjectName(QStringLiteral("phoneWhom"));
  layOut();
  connect(open_, &QPushButton::clicked, this, &PhoneDialog::toggle);
  connect(renew_, &QPushButton::clicked, &phone_, &Phone::withdrawKey);
  connect(&phone_, &Phone::changed, this, &PhoneDialog::refresh);
  connect(&looks_, &QTimer::timeout, this, &PhoneDialog::refresh);
  looks_.start(kLooks_ms);
  listAddresses();
  refresh();
}

void PhoneDialog::layOut() {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(24, 24, 24, 24);
  row->setSpacing(24);
  code_->setFixedSize(kCode_px, kCode_px);
  code_->setAlignment(Qt::AlignCenter);
  code_->setWordWrap(true);
  code_->setAccessibleName(tr("Code that a phone's camera reads"));
  row->addWidget(code_, 0, Qt::AlignTop);
  auto* column = new QVBoxLayout;
  column->setSpacing(8);
  auto* what = paragraph(
      tr("A page for the phone: photograph the hooping and read its verdict, see what the machines "
         "do, read the hooping sheets. It can pause a machine; it can start none."));
  what->setMinimumWidth(380);
  column->addWidget(what);
  addresses_->setAccessibleName(tr("Address that it is served at"));
  column->addWidget(addresses_);
  column->addWidget(pair(open_, renew_));
  column->addWidget(whom_);
  link_->setReadOnly(true);
  link_->setAccessibleName(tr("Link with its key"));
  column->addWidget(link_);
  column->addWidget(phones_);
  fingerprint_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  column->addWidget(fingerprint_);
  column->addStretch();
  row->addLayout(column, 1);
}

/// Addresses of this computer: those of its networks first, then the one for programs on it.
void PhoneDialog::listAddresses() {
  for (const QHostAddress& at : QNetworkInterface::allAddresses())
    if (at.protocol() == QAbstractSocket::IPv4Protocol && !at.isLoopback())
      addresses_->addItem(tr("%1, for phones in this network").arg(at.toString()), at.toString());
  addresses_->addItem(tr("127.0.0.1, for this computer alone"), QStringLiteral("127.0.0.1"));
}

void PhoneDialog::toggle() {
  if (phone_.isOpen()) return phone_.close();
  guarded(desk_, [this] {
    phone_.open(parsePhoneAddress(addresses_->currentData().toString().toStdString() + ":0"));
  });
}

void PhoneDialog::refresh() {
  const bool is = phone_.isOpen();
  open_->setText(is ? tr("Close the page") : tr("Open the page"));
  renew_->setEnabled(is);
  addresses_->setEnabled(!is);
  whom_->setText(phone_.whom());
  if (link_->text() != phone_.link()) {
    link_->setText(phone_.link());
    link_->setCursorPosition(0);
    if (is)
      code_->setPixmap(codePicture(phone_.link()));
    else
      code_->setText(tr("Open the page: its code comes here."));
  } else if (!is && code_->text().isEmpty()) {
    code_->setText(tr("Open the page: its code comes here."));
  }
  link_->setVisible(is);
  const int phones = phone_.phones();
  phones_->setVisible(is);
  phones_->setText(phones == 0 ? tr("No phone looks at it.")
                               : tr("%1 at it now.")
                                     .arg(counted(static_cast<size_t>(phones), tr("phone looks"),
                                                  tr("phones look"))));
  fingerprint_->setVisible(!phone_.fingerprint().isEmpty());
  fingerprint_->setText(
      tr("The phone's browser asks once, because this workroom signed its certificate itself. Its "
         "fingerprint (SHA-256): %1")
          .arg(phone_.fingerprint()));
}

}  // namespace rt

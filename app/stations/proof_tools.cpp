#include "proof_tools.h"

#include "actions.h"
#include "proof_words.h"

namespace rt {
namespace {

/// A letter as rich text; differences are underlined or struck through as well as coloured.
QString marked(const std::string& letter, ProofKind kind, bool sewn) {
  const QString c =
      letter.empty() ? QStringLiteral("▁") : QString::fromStdString(letter).toHtmlEscaped();
  if (kind == ProofKind::Same) return c;
  const QString colour =
      (sewn || kind == ProofKind::Missing ? look::colours().stop : look::colours().check).name();
  const char* how =
      kind == ProofKind::Extra || kind == ProofKind::Doubled ? "line-through" : "underline";
  return QStringLiteral("<b style=\"color:%1;text-decoration:%2\">%3</b>")
      .arg(colour, QString::fromLatin1(how), c);
}

}  // namespace

ProofTools::ProofTools(Desk& desk)
    : desk_(desk),
      ordered_(paragraph({})),
      sewn_(paragraph({})),
      said_(paragraph({}, true)),
      accept_(button({}, tr("I have read the sewn text letter by letter"))) {
  setObjectName(QStringLiteral("proof"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  column->addWidget(heading(tr("Proof, letter by letter")));
  for (QLabel* label : {ordered_, sewn_}) {
    label->setTextFormat(Qt::RichText);
    label->setFont(look::text(11));
    column->addWidget(label);
  }
  ordered_->setObjectName(QStringLiteral("proofOrdered"));
  sewn_->setObjectName(QStringLiteral("proofSewn"));
  accept_->setObjectName(QStringLiteral("acceptProof"));
  column->addWidget(said_);
  column->addWidget(accept_);
  connect(accept_, &QPushButton::clicked, this, &ProofTools::accept);
}

void ProofTools::accept() {
  desk_.change(tr("accept the proof"), actions::proofAccepted(desk_.job()));
}

void ProofTools::refresh() {
  const Job& job = desk_.job();
  const bool any = !proofKey(job).empty();
  setVisible(any);
  if (!any) return;
  const std::vector<ProofMark> marks = proofMarks(job);
  QString ordered, sewn;
  size_t wrong = 0;
  for (const ProofMark& m : marks) {
    ordered += marked(m.ordered, m.kind, false);
    sewn += marked(m.sewn, m.kind, true);
    wrong += m.kind != ProofKind::Same;
  }
  ordered_->setText(tr("Ordered&nbsp; %1").arg(ordered));
  sewn_->setText(tr("Sewn&nbsp; %1").arg(sewn));
  const bool accepted = proofAccepted(job);
  const QString first = QString::fromStdString(inWords(marks));
  said_->setText(
      wrong == 0 ? tr("Every letter and every space agrees.")
                 : tr("%1: %2.").arg(counted(wrong, tr("difference"), tr("differences")), first));
  accept_->setText(accepted     ? tr("Accepted; any change asks again")
                   : wrong == 0 ? tr("Accept the proof")
                                : tr("Accept it with its differences"));
  accept_->setEnabled(!accepted);
}

}  // namespace rt

#include "app/prove/decide_page.h"

#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "core/edit/tests.h"

#include <QDate>
#include <QFormLayout>
#include <QVBoxLayout>

namespace dervish::app {

DecidePage::DecidePage(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), kind_(named_combo("decision", tr("Decision"))),
      words_(named_line("decision words", tr("In words"))), ordered_(named_line("ordered", tr("Already ordered"))),
      again_(named_line("look again", tr("Look again, when"))), person_(named_line("voice", tr("Who"))),
      why_(named_line("voice why", tr("Why"))), voices_(named_words("voices")), now_(named_words("decided")),
      error_(named_words("decide error")), decide_(named_button(tr("Decide, and write it into the book"), "decide")),
      agree_(named_button(tr("Agrees"), "agrees")), object_(named_button(tr("Objects"), "objects")),
      take_back_(named_button(tr("Take the last back"), "take voice back")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    for (int k = 0; k < 6; ++k) kind_->addItem(qs(say::words_of(static_cast<job::Decision::Kind>(k))));
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("Who"), person_);
    form->addRow(tr("Why"), why_);
    column->addWidget(new QLabel(tr("<b>Who agrees, who objects</b>")));
    column->addLayout(form);
    auto* say = new QHBoxLayout;
    say->addWidget(agree_);
    say->addWidget(object_);
    column->addLayout(say);
    column->addWidget(voices_);
    column->addWidget(take_back_, 0, Qt::AlignLeft);
    column->addWidget(new QLabel(tr("<b>Decision</b>")));
    auto* more = new QFormLayout;
    more->setVerticalSpacing(5);
    more->addRow(tr("We"), kind_);
    more->addRow(tr("In words"), words_);
    more->addRow(tr("Ordered"), ordered_);
    more->addRow(tr("Look again"), again_);
    column->addLayout(more);
    ordered_->setPlaceholderText(tr("what cannot be undone"));
    again_->setPlaceholderText(tr("a date, or what for"));
    column->addWidget(decide_);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    column->addWidget(error_);
    column->addWidget(now_);
    for (QLineEdit* line : {words_, ordered_, again_})
        connect(line, &QLineEdit::textEdited, this, [this] {
            document_.edit(tr("words of a decision"), QString("decision words %1").arg(sums_.index()),
                           [&](job::Job& job) {
                               edit::set_decision_words(job, sums_.index(), words_->text().toStdString(),
                                                        ordered_->text().toStdString(), again_->text().toStdString());
                           });
        });
    connect(agree_, &QPushButton::clicked, this, [this] { speak(true); });
    connect(object_, &QPushButton::clicked, this, [this] { speak(false); });
    connect(decide_, &QPushButton::clicked, this, &DecidePage::decide);
    connect(take_back_, &QPushButton::clicked, this, [this] {
        if (const auto* t = sums_.test())
            document_.edit(tr("voice taken back"), {}, [&](job::Job& job) {
                edit::remove_voice(job, sums_.index(), static_cast<int>(t->decision.voices.size()) - 1);
            });
    });
    refresh();
}

void DecidePage::speak(bool agrees) {
    const std::string who = person_->text().trimmed().toStdString();
    if (!sums_.test()) return;
    if (who.empty()) {
        error_->setText(tr("Say who: a voice without a name helps nobody later."));
        person_->setFocus();
        return;
    }
    error_->clear();
    document_.edit(agrees ? tr("agreed") : tr("objected"), {}, [&](job::Job& job) {
        edit::put_voice(job, sums_.index(), {who, why_->text().trimmed().toStdString(), agrees});
    });
    person_->clear();
    why_->clear();
}

void DecidePage::decide() {
    if (!sums_.test()) return;
    const auto kind = static_cast<job::Decision::Kind>(kind_->currentIndex());
    error_->clear();
    if (kind == job::Decision::Kind::None || words_->text().trimmed().isEmpty()) {
        error_->setText(tr("Choose what is decided and say it in words that can be read in a year."));
        return;
    }
    const auto& book = document_.job().book;
    const double clock = book.empty() ? 0 : book.back().odometer;
    const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
    document_.edit(tr("decision"), {}, [&](job::Job& job) { edit::decide(job, sums_.index(), kind, today, clock); });
}

void DecidePage::refresh() {
    const job::PlannedTest* t = sums_.test();
    if (!t) return;
    const bool another = of_ != sums_.index();
    show_kept(words_, t->decision.words, another);
    show_kept(ordered_, t->decision.ordered, another);
    show_kept(again_, t->decision.look_again, another);
    if (shown_ != t->decision.kind || another) kind_->setCurrentIndex(static_cast<int>(t->decision.kind));
    shown_ = t->decision.kind;
    of_ = sums_.index();
    QStringList voices;
    for (const job::Voice& v : t->decision.voices)
        voices << qs(v.person) + (v.agrees ? tr(" agrees") : tr(" objects")) +
                      (v.why.empty() ? QString() : ": " + qs(v.why));
    voices_->setText(voices.join("\n"));
    take_back_->setEnabled(!t->decision.voices.empty());
    const bool decided = t->decision.kind != job::Decision::Kind::None;
    now_->setText(decided ? tr("%1: decided to %2. “%3” It stands in the book.")
                                .arg(qs(t->decision.date), qs(say::words_of(t->decision.kind)), qs(t->decision.words))
                          : tr("Not decided yet."));
}

} // namespace dervish::app

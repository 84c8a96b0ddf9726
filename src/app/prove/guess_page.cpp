#include "app/prove/guess_page.h"

#include "app/prove/run_chart.h"
#include "app/shell/theme.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/edit/tests.h"

#include <QFormLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace dervish::app {
namespace {
constexpr int order_of_all = 4; ///< among the kinds of guess: after those of job::Guess
}

GuessPage::GuessPage(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), person_(named_line("guess person", tr("Whose guess"))),
      order_(named_line("guess order", tr("Order of all setups, the most first"))),
      value_(new NumberEdit(document, {"guess", "Guess", units::Quantity::Length, job::Tool::Test, -1e9, 1e9})),
      span_(new NumberEdit(document, {"span", "Span", units::Quantity::Length, job::Tool::Test, 0, 1e9})),
      state_(named_combo("guess state", tr("Of which setup"))), kind_(named_combo("guess kind", tr("Kind of guess"))),
      than_(named_combo("guess than", tr("Compared with"))), list_(named_words("guesses")),
      error_(named_words("guess error")), value_label_(new QLabel), of_(named_words("predicts of")),
      note_(named_button(tr("Note this guess"), "note guess")),
      take_back_(named_button(tr("Take the last back"), "take guess back")), predict_(named_button({}, "predict")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    auto* why = named_words("guess why");
    why->setText(tr("The guess comes before the sum, the sum before the reading. Everybody guesses for each setup; "
                    "until it is predicted, what answers it is hidden in the whole window."));
    column->addWidget(why);
    value_->setObjectName("guess");
    value_->setAccessibleName(tr("Guess"));
    span_->setObjectName("guess span");
    span_->setAccessibleName(tr("Half width you would bet nine in ten on"));
    for (const QString& word :
         {tr("a number"), tr("less than"), tr("the same as"), tr("more than"), tr("an order of all")})
        kind_->addItem(word);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("Who"), person_);
    form->addRow(tr("Setup"), state_);
    form->addRow(tr("Guess"), kind_);
    form->addRow(tr("Setup"), than_);
    form->addRow(tr("From the most"), order_);
    form->addRow(value_label_, value_);
    form->addRow(tr("give or take"), span_);
    column->addLayout(form);
    column->addWidget(note_);
    column->addWidget(error_);
    column->addWidget(list_);
    column->addWidget(take_back_, 0, Qt::AlignLeft);
    column->addWidget(predict_);
    column->addWidget(of_);
    person_->setPlaceholderText(tr("Whose guess"));
    order_->setPlaceholderText(tr("like B, A = C"));
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    connect(kind_, &QComboBox::activated, this, &GuessPage::refresh);
    connect(note_, &QPushButton::clicked, this, &GuessPage::note);
    connect(value_, &QLineEdit::returnPressed, this, &GuessPage::note);
    connect(order_, &QLineEdit::returnPressed, this, &GuessPage::note);
    connect(take_back_, &QPushButton::clicked, this, [this] {
        if (const auto* t = sums_.test())
            document_.edit(tr("guess taken back"), {}, [&](job::Job& job) {
                edit::remove_guess(job, sums_.index(), static_cast<int>(t->guesses.size()) - 1);
            });
    });
    connect(predict_, &QPushButton::clicked, this, [this] {
        // A guess that is typed and not noted yet counts too.
        const QLineEdit* typed = kind_->currentIndex() == 0              ? static_cast<QLineEdit*>(value_)
                                 : kind_->currentIndex() == order_of_all ? order_
                                                                         : nullptr;
        if (!typed || typed->text().trimmed().isEmpty() || note()) sums_.predict();
    });
    refresh();
}

bool GuessPage::note() {
    const job::PlannedTest* t = sums_.test();
    const proof::Protocol* p = sums_.protocol();
    if (!t || !p || p->channels.empty()) return false;
    job::Guess guess;
    guess.person = person_->text().trimmed().toStdString();
    guess.state = state_->currentIndex();
    guess.kind = static_cast<job::Guess::Kind>(kind_->currentIndex());
    guess.than = than_->currentIndex();
    error_->hide();
    try {
        if (kind_->currentIndex() == order_of_all) {
            const auto order = edit::ranking(order_->text().toStdString(), guess.person, t->states.size());
            order_->clear();
            document_.edit(tr("guess"), {}, [&](job::Job& job) { edit::put_ranking(job, sums_.index(), order); });
            return true;
        }
        if (guess.kind == job::Guess::Kind::Number) {
            guess.value = job::parse(value_->text().toStdString(), value_->spec(), document_.units(), "guess");
            if (!span_->text().trimmed().isEmpty())
                guess.span = job::parse(span_->text().toStdString(), span_->spec(), document_.units(), "span");
        } else if (guess.than == guess.state) {
            throw BadInput("guess", "a setup against itself", "choose another setup to compare with");
        }
    } catch (const BadInput& e) {
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
        return false;
    }
    value_->clear();
    span_->clear();
    document_.edit(tr("guess"), {}, [&](job::Job& job) { edit::put_guess(job, sums_.index(), guess); });
    return true;
}

void GuessPage::refresh() {
    const job::PlannedTest* t = sums_.test();
    const proof::Protocol* p = sums_.protocol();
    if (!t || !p) return;
    const bool open = !t->predicted(), read = !p->channels.empty();
    for (QComboBox* box : {state_, than_}) {
        const int was = box->currentIndex();
        refill(box, states_of(*t));
        box->setCurrentIndex(std::clamp(was, 0, static_cast<int>(t->states.size()) - 1));
    }
    const bool number = kind_->currentIndex() == 0, ranked = kind_->currentIndex() == order_of_all;
    auto* form = static_cast<QFormLayout*>(layout()->itemAt(1)->layout());
    const auto show = [&](QWidget* w, bool shown) {
        w->setVisible(shown);
        form->labelForField(w)->setVisible(shown);
    };
    show(than_, !number && !ranked);
    show(state_, !ranked);
    show(order_, ranked);
    show(value_, number);
    show(span_, number);
    if (read) {
        job::FieldSpec spec = p->channels[0].spec, span = spec;
        span.lowest = 0;
        value_->set_spec(spec);
        span_->set_spec(span);
        value_label_->setText(with_unit(tr(spec.label), spec.quantity, document_.units()));
        value_label_->setWordWrap(true);
    }
    for (QWidget* w : {static_cast<QWidget*>(person_), static_cast<QWidget*>(state_), static_cast<QWidget*>(kind_),
                       static_cast<QWidget*>(than_), static_cast<QWidget*>(value_), static_cast<QWidget*>(span_),
                       static_cast<QWidget*>(order_), static_cast<QWidget*>(note_)})
        w->setEnabled(open && read);
    take_back_->setEnabled(open && !t->guesses.empty());
    QStringList list;
    if (!sums_.hidden())
        for (const job::Guess& g : t->guesses) list << qs(say::words_of(g, *t, document_.units()));
    list_->setText(list.join("\n"));
    QStringList names;
    for (const job::TestState& s : t->states) names << qs(s.name);
    predict_->setEnabled(open && !sums_.predicting());
    predict_->setText(sums_.predicting() ? tr("Predicting …") : open ? tr("Predict") : tr("Predicted and frozen"));
    of_->setText(sums_.failed().isEmpty()
                     ? (open ? tr("It will be predicted for: %1, on the car and its parts as measured now, standing "
                                  "and loaded as planned.")
                             : tr("Predicted for: %1, by model version %2. Nothing corrected later changes it.")
                                   .arg("%1", qs(t->states[0].prediction.model)))
                           .arg(names.join("; "))
                     : sums_.failed());
    of_->setStyleSheet(sums_.failed().isEmpty() ? "font-size: 13px;"
                                                : "font-size: 13px; color: " + theme().caution.name());
}

} // namespace dervish::app

#include "app/links/steps_page.h"

#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/edit/readings.h"
#include "core/job/fields.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
using State = say::StepFound::State;

const job::FieldSpec tolerance_spec{"lift_tolerance", "Alike within", units::Quantity::Length,
                                    job::Tool::Tape,  0.1e-3,         0.1};

const job::FieldSpec per_wheel_spec{
    "per_wheel", "Contact point's rise", units::Quantity::Number, job::Tool::Tape, 0.1, 3};

/// A shape for how a step stands: ring to do, tick good, triangle attend.
QIcon state_icon(State state) {
    QPixmap out(16, 16);
    out.fill(Qt::transparent);
    QPainter p(&out);
    p.setRenderHint(QPainter::Antialiasing);
    if (state == State::Todo) {
        p.setPen(QPen(theme().soft, 1.6));
        p.drawEllipse(QPointF(8, 8), 5, 5);
    } else if (state == State::Good) {
        p.setPen(QPen(theme().front, 2.4));
        p.drawPolyline(QPolygonF{{3, 8.5}, {6.5, 12}, {13, 4}});
    } else {
        p.setPen(QPen(theme().caution, 1.8));
        p.drawPolygon(QPolygonF{{8, 2}, {14.5, 13.5}, {1.5, 13.5}});
    }
    return QIcon(out);
}
} // namespace

StepsPage::StepsPage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), how_(new QLabel), found_(new QLabel), next_(new QLabel),
      problem_(new QLabel), tick_(new QCheckBox(tr("Done, and good"))), box_(new QWidget),
      fields_(new QGridLayout(box_)), rounds_(new QTableWidget), tolerance_(new NumberEdit(document, tolerance_spec)),
      per_wheel_(new NumberEdit(document, per_wheel_spec)), length_unit_(new QLabel), tolerance_box_(new QWidget) {
    setObjectName("set-up steps");
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(20, 2, 16, 2);
    line->setSpacing(18);
    auto* list = new QVBoxLayout;
    list->setSpacing(0);
    for (const say::Step step : say::all_steps) {
        auto* button = new QPushButton;
        button->setCheckable(true);
        button->setObjectName("step " + QString::number(static_cast<int>(step) + 1));
        button->setStyleSheet(
            "QPushButton { text-align: left; padding: 1px 8px; border: none; background: transparent; "
            "font-weight: normal; } QPushButton:checked { background: " +
            theme().selected.name() + "; color: " + theme().on_selected.name() +
            "; } QPushButton:focus { border: 1px solid palette(text); }");
        button->setFixedSize(190, 23);
        connect(button, &QPushButton::clicked, this, [this, step] { show_step(step); });
        steps_.push_back(button);
        list->addWidget(button);
    }
    list->addStretch();
    line->addLayout(list);
    auto* card = new QVBoxLayout;
    card->setSpacing(4);
    for (QLabel* label : {how_, found_, next_, problem_}) label->setWordWrap(true);
    how_->setStyleSheet("color: " + theme().soft.name());
    found_->setStyleSheet("font-weight: bold");
    next_->setStyleSheet("color: " + theme().caution.name());
    problem_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    next_->setObjectName("next action");
    found_->setObjectName("step found");
    card->addWidget(how_);
    fields_->setContentsMargins(0, 0, 0, 0);
    fields_->setVerticalSpacing(2);
    card->addWidget(box_);
    tick_->setObjectName("step done");
    card->addWidget(tick_);
    auto* beside = new QGridLayout(tolerance_box_);
    beside->setContentsMargins(8, 0, 0, 0);
    int row = 0;
    for (const auto& [edit, words, name] :
         {std::tuple{tolerance_, tr("alike within"), "lift tolerance"},
          {per_wheel_, tr("contact point rises, of the wheel's rise"), "per wheel"}}) {
        auto* label = new QLabel(words);
        label->setBuddy(edit);
        edit->setObjectName(name);
        edit->setAccessibleName(words);
        edit->setFixedWidth(64);
        beside->addWidget(label, row, 0);
        beside->addWidget(edit, row++, 1);
    }
    beside->addWidget(length_unit_, 0, 2);
    rounds_->setObjectName("lift rounds");
    rounds_->setAccessibleName(tr("Rounds of left and right readings"));
    rounds_->setColumnCount(2);
    rounds_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    rounds_->verticalHeader()->setDefaultSectionSize(22);
    rounds_->setFixedSize(260, 76);
    auto* lifts = new QHBoxLayout;
    lifts->addWidget(rounds_);
    lifts->addWidget(tolerance_box_, 0, Qt::AlignTop);
    lifts->addStretch();
    card->addLayout(lifts);
    card->addWidget(problem_);
    card->addWidget(found_);
    card->addWidget(next_);
    card->addStretch();
    line->addLayout(card, 1);
    connect(tick_, &QCheckBox::clicked, this, [this](bool on) {
        edit(tr("step of the set-up"), {}, [&](job::SetupChecks& c, job::Job&) { c.*say::tick_of(step_) = on; });
    });
    rounds_->setItemDelegate(new NumberDelegate(
        document_, [](int, int column) { return edit::lift_specs[column]; }, [](int) { return false; }, rounds_));
    connect(rounds_, &QTableWidget::cellChanged, this, &StepsPage::type_round);
    const auto setting = [this](QLineEdit* field, const job::FieldSpec& spec, double job::SetupChecks::*value) {
        connect(field, &QLineEdit::editingFinished, this, [this, field, &spec, value] {
            const std::string text = field->text().trimmed().toStdString();
            edit(tr("how the lift check is read"), {}, [&](job::SetupChecks& c, job::Job& job) {
                job.drafts.erase(draft(spec.key));
                try {
                    c.*value = job::parse(text, spec, document_.units(), spec.key);
                } catch (const BadInput&) {
                    job.drafts[draft(spec.key)] = {text, document_.units()};
                }
            });
        });
    };
    setting(tolerance_, tolerance_spec, &job::SetupChecks::lift_tolerance);
    setting(per_wheel_, per_wheel_spec, &job::SetupChecks::per_wheel);
    build_fields();
    new Follow(document_, this, [this] { refresh(); });
}

void StepsPage::show_end(End end) {
    end_ = end;
    refresh();
}

void StepsPage::show_step(say::Step step) {
    step_ = step;
    build_fields();
    refresh();
}

const job::AxleSetup& StepsPage::assembly() const {
    const job::Setup& s = document_.looked_setup();
    return s[end_];
}

const job::AxleData& StepsPage::axle() const { return document_.job().vehicle[end_]; }

std::string StepsPage::draft(const std::string& key) const {
    return edit::check_key(document_.look() == Look::Trial, end_, key);
}

void StepsPage::edit(const QString& what, const QString& merge,
                     const std::function<void(job::SetupChecks&, job::Job&)>& change) {
    document_.edit(what, merge, [&](job::Job& job) {
        job::Setup& s = document_.look() == Look::Trial ? job.trial : job.fitted; // found on the car itself
        change(job::checks_for(job, s[end_]), job);
    });
}

void StepsPage::build_fields() {
    for (QObject* old : box_->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly)) {
        static_cast<QWidget*>(old)->hide();
        old->deleteLater();
    }
    edits_.clear();
    in_ = document_.units();
    int row = 0;
    for (const say::StepReading& reading : say::readings_of(step_)) {
        auto* label = new QLabel(reading.spec.label);
        auto* edit = new NumberEdit(document_, reading.spec);
        edit->set_tells_problems(false);
        edit->setObjectName(QString("check ") + reading.spec.key);
        edit->setAccessibleName(reading.spec.label);
        edit->setFixedWidth(80);
        label->setBuddy(edit);
        const auto symbol = units::shown(reading.spec.quantity, document_.units()).symbol;
        fields_->addWidget(label, row, 0);
        fields_->addWidget(edit, row, 1);
        fields_->addWidget(new QLabel(QString::fromUtf8(symbol.data())), row++, 2);
        fields_->setColumnStretch(3, 1);
        edits_.push_back(edit);
        connect(edit, &QLineEdit::textEdited, this,
                [this, &reading](const QString& text) { type_reading(reading, text); });
        connect(edit, &QLineEdit::editingFinished, this, [this, edit] {
            edit->setModified(false);
            refresh();
        });
    }
    box_->setVisible(row > 0);
}

void StepsPage::type_reading(const say::StepReading& reading, const QString& typed) {
    document_.edit(tr("reading of the set-up"), "check " + qs(draft(reading.spec.key)), [&](job::Job& job) {
        edit::type_check(job, document_.look() == Look::Trial, end_, reading.spec, reading.value,
                         {typed.trimmed().toStdString(), document_.units()});
    });
}

void StepsPage::type_round(int row, int column) {
    if (filling_) return;
    const bool trial = document_.look() == Look::Trial;
    const edit::Entry entry{rounds_->item(row, column)->text().trimmed().toStdString(), document_.units()};
    document_.edit(tr("round of the lift check"), "cell " + qs(edit::round_key(trial, end_, row, column)),
                   [&](job::Job& job) { edit::type_round(job, trial, end_, row, column, entry); });
}

QString StepsPage::verdict() const { return found_->text() + " " + next_->text(); }

void StepsPage::refresh_step(const say::StepFound& found) {
    how_->setText(qs(found.how));
    found_->setText(qs(found.found));
    found_->setVisible(!found.found.empty());
    next_->setText(found.state == State::Good && found.next.empty() ? QString() : qs(found.next));
    next_->setVisible(!found.next.empty());
    const job::SetupChecks& c = job::checks_of(document_.job(), assembly());
    const auto tick = say::tick_of(step_);
    tick_->setVisible(tick != nullptr);
    if (tick) tick_->setChecked(c.*tick);
    QString problem;
    const auto waits = [&](const std::string& key, const job::FieldSpec& spec) {
        return document_.draft(draft(key), spec.quantity);
    };
    const auto readings = say::readings_of(step_);
    box_->setVisible(!readings.empty());
    for (std::size_t i = 0; i < readings.size(); ++i) {
        const say::StepReading& r = readings[i];
        const auto typed = waits(r.spec.key, r.spec);
        if (typed) {
            try {
                job::parse(typed->toStdString(), r.spec, document_.units(), r.spec.key);
            } catch (const BadInput& e) {
                problem = qs(e.problem() + "; " + e.accepted());
            }
        }
        const auto& value = c.*r.value;
        const QString text = typed ? *typed : value ? qs(job::show(*value, r.spec, document_.units())) : QString();
        const bool typing = edits_[i]->hasFocus() && edits_[i]->isModified();
        if (!typing && edits_[i]->text() != text) edits_[i]->setText(text);
    }
    const bool lifts = step_ == say::Step::LeftRight;
    rounds_->setVisible(lifts);
    tolerance_box_->setVisible(lifts);
    if (lifts) {
        const auto unit = QString::fromUtf8(units::shown(units::Quantity::Length, document_.units()).symbol.data());
        rounds_->setHorizontalHeaderLabels({tr("left lifted, %1").arg(unit), tr("right lifted, %1").arg(unit)});
        rounds_->setRowCount(static_cast<int>(c.rounds.size()) + 1); // the last row waits
        for (int row = 0; row < rounds_->rowCount(); ++row)
            for (int column = 0; column < 2; ++column) {
                const std::string key = "round " + std::to_string(row) + (column == 0 ? " left" : " right");
                const auto typed = waits(key, edit::lift_specs[column]);
                QString text;
                if (typed) {
                    text = *typed;
                    try {
                        job::parse(text.toStdString(), edit::lift_specs[column], document_.units(), key);
                        problem = tr("Read the other side too.");
                    } catch (const BadInput& e) {
                        problem = qs(e.problem() + "; " + e.accepted());
                    }
                } else if (row < static_cast<int>(c.rounds.size())) {
                    const job::LiftRound& r = c.rounds[static_cast<std::size_t>(row)];
                    text = qs(job::show(column == 0 ? r.left : r.right, edit::lift_specs[column], document_.units()));
                }
                QTableWidgetItem* item = rounds_->item(row, column);
                if (!item) rounds_->setItem(row, column, item = new QTableWidgetItem);
                if (item->text() != text) item->setText(text);
                item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            }
        rounds_->scrollToBottom();
        length_unit_->setText(unit);
        const auto show = [&](QLineEdit* line, const job::FieldSpec& spec, double value) {
            const auto typed = waits(spec.key, spec);
            if (typed) {
                try {
                    job::parse(typed->toStdString(), spec, document_.units(), spec.key);
                } catch (const BadInput& e) {
                    problem = qs(e.problem() + "; " + e.accepted());
                }
            }
            mark_bad(line, typed.has_value());
            if (!line->hasFocus()) line->setText(typed ? *typed : qs(job::show(value, spec, document_.units())));
        };
        show(tolerance_, tolerance_spec, c.lift_tolerance);
        show(per_wheel_, per_wheel_spec, c.per_wheel);
    }
    problem_->setText(problem);
    problem_->setVisible(!problem.isEmpty());
}

void StepsPage::refresh() {
    filling_ = true;
    if (document_.units() != in_) build_fields();
    for (std::size_t i = 0; i < steps_.size(); ++i) {
        const say::Step step = say::all_steps[i];
        steps_[i]->setChecked(step == step_);
        try {
            const say::StepFound found =
                say::look_at(step, assembly(), job::checks_of(document_.job(), assembly()), axle(), document_.units());
            steps_[i]->setText(QString("%1  %2").arg(i + 1).arg(qs(found.title)));
            steps_[i]->setIcon(state_icon(found.state));
            static const QString words[] = {tr("to do"), tr("good"), tr("needs attention")};
            steps_[i]->setAccessibleDescription(words[static_cast<int>(found.state)]);
            steps_[i]->setEnabled(true);
            if (step == step_) refresh_step(found);
        } catch (const BadInput& e) {
            steps_[i]->setEnabled(false);
            if (step == step_) {
                how_->setText(qs(e.problem() + "; " + e.accepted()));
                for (QWidget* w :
                     {static_cast<QWidget*>(found_), static_cast<QWidget*>(next_), static_cast<QWidget*>(tick_), box_,
                      static_cast<QWidget*>(rounds_), tolerance_box_, static_cast<QWidget*>(problem_)})
                    w->hide();
            }
        }
    }
    filling_ = false;
}

} // namespace dervish::app

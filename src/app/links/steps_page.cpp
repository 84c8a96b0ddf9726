#include "app/links/steps_page.h"

#include "app/shell/theme.h"
#include "app/widgets/entry_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_table.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/edit/readings.h"
#include "core/job/fields.h"
#include "core/job/usual.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QPainter>
#include <QVBoxLayout>

namespace dervish::app {
namespace {
using State = say::StepFound::State;

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
      rounds_(new NumberTable(document, "lift rounds", tr("Rounds of left and right readings"),
                              [](int, int column) { return edit::lift_specs[column]; })),
      settings_(new QWidget) {
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
    plain_column(box_);
    box_->setMaximumWidth(380);
    card->addWidget(box_);
    tick_->setObjectName("step done");
    card->addWidget(tick_);
    plain_column(settings_);
    rounds_->setColumnCount(2);
    rounds_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    rounds_->verticalHeader()->setDefaultSectionSize(22);
    rounds_->setFixedSize(260, 76);
    auto* lifts = new QHBoxLayout;
    lifts->addWidget(rounds_);
    lifts->addWidget(settings_, 0, Qt::AlignTop);
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
    connect(rounds_, &NumberTable::typed, this, &StepsPage::type_round);
    new Follow(document_, this, [this] { refresh(); });
}

void StepsPage::show_end(End end) {
    end_ = end;
    refresh();
}

void StepsPage::show_step(say::Step step) {
    step_ = step;
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

void StepsPage::build_rows() {
    const QString of = QString("%1 %2").arg(static_cast<int>(step_)).arg(qs(draft("")));
    if (of == std::exchange(built_, of)) return;
    for (EntryRow* row : rows_) {
        row->hide();
        row->deleteLater();
    }
    rows_.clear();
    const bool trial = document_.look() == Look::Trial;
    const auto add = [&](QWidget* box, const QString& name, const job::FieldSpec& spec, auto kept, auto type,
                         const QString& said) {
        auto* row = new EntryRow(document_, tr(spec.label), name,
                                 {spec, draft(spec.key),
                                  [this, spec, kept](const job::Job& job) {
                                      job::SetupChecks checks = job::checks_of(job, assembly());
                                      checks.lift_tolerance = job::lift_tolerance(checks, axle().track.value);
                                      const std::optional<double> value = checks.*kept;
                                      return value ? qs(job::show(*value, spec, document_.units())) : QString();
                                  },
                                  type, false, said});
        box->layout()->addWidget(row);
        rows_.push_back(row);
    };
    for (const say::StepReading& r : say::readings_of(step_))
        add(
            box_, QString("check ") + r.spec.key, r.spec, r.value,
            [r, trial, end = end_](job::Job& job, const edit::Entry& e) {
                edit::type_check(job, trial, end, r.spec, r.value, e);
            },
            tr("reading of the set-up"));
    if (step_ != say::Step::LeftRight) return;
    for (const edit::LiftSetting& s : edit::lift_settings)
        add(
            settings_, s.spec.key, s.spec, s.value,
            [&s, trial, end = end_](job::Job& job, const edit::Entry& e) {
                edit::type_lift_setting(job, trial, end, s, e);
            },
            tr("how the lift check is read"));
}

void StepsPage::type_round(int row, int column, const QString& text) {
    const bool trial = document_.look() == Look::Trial;
    const edit::Entry entry{text.toStdString(), document_.units()};
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
    build_rows();
    box_->setVisible(!say::readings_of(step_).empty());
    for (EntryRow* row : rows_) row->refresh();
    const bool lifts = step_ == say::Step::LeftRight;
    rounds_->setVisible(lifts);
    settings_->setVisible(lifts);
    problem_->hide();
    if (!lifts) return;
    const auto count = static_cast<int>(c.rounds.size());
    const QStringList heads{with_unit(tr("left lifted"), units::Quantity::Length, document_.units()),
                            with_unit(tr("right lifted"), units::Quantity::Length, document_.units())};
    const auto problem = rounds_->show_cells(count + 1, heads, true, [&](int row, int column) { // the last row waits
        std::optional<double> kept;
        if (row < count) {
            const job::LiftRound& r = c.rounds[static_cast<std::size_t>(row)];
            kept = column == 0 ? r.left : r.right;
        }
        return reading_cell(document_, edit::round_key(document_.look() == Look::Trial, end_, row, column),
                            edit::lift_specs[column], kept, tr("Read the other side too."));
    });
    rounds_->scrollToBottom();
    problem_->setText(problem.words);
    problem_->setVisible(!problem.words.isEmpty());
}

void StepsPage::refresh() {
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
                      static_cast<QWidget*>(rounds_), settings_, static_cast<QWidget*>(problem_)})
                    w->hide();
            }
        }
    }
}

} // namespace dervish::app

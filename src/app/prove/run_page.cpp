#include "app/prove/run_page.h"

#include "app/prove/run_chart.h"
#include "app/shell/theme.h"
#include "app/widgets/entry_row.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/edit/tests.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSlider>
#include <QTime>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

namespace dervish::app {
namespace {
void clear(QWidget* of) {
    while (QLayoutItem* item = of->layout()->takeAt(0)) {
        delete item->widget();
        delete item;
    }
}
} // namespace

RunPage::RunPage(Document& document, TestSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), which_(named_combo("run shown", tr("Run"))),
      state_(named_combo("run state", tr("Setup of this run"))), out_(named_combo("left out", tr("What is left out"))),
      driver_(named_line("run driver", tr("Driver"))), time_(named_line("run time", tr("Time"))),
      ground_(named_line("run ground", tr("Ground"))), marker_(named_line("marked by", tr("Who marks"))),
      reason_(named_line("left out because", tr("Left out, because"))), note_(new QPlainTextEdit),
      none_(named_words("no run")), slips_(named_words("slips")), felt_words_(named_words("felt words")),
      aboard_(new QToolButton), next_(named_button(tr("Next run"), "next run")),
      felt_(named_button(tr("All that was felt is typed: show the numbers"), "felt")),
      remove_(named_button(tr("Remove this run"), "remove run")), leave_(named_button(tr("Leave out"), "leave out")),
      aids_(new QCheckBox(tr("Driving aids on"))), more_(new QCheckBox(tr("Pressures, air, fuel"))), body_(new QWidget),
      marks_(new QWidget), readings_(new QWidget), conditions_(new QWidget) {
    auto* column = plain_column(this);
    column->setSpacing(4);
    auto* top = new QHBoxLayout;
    top->addWidget(which_, 1);
    top->addWidget(next_);
    column->addLayout(top);
    column->addWidget(none_);
    column->addWidget(body_);
    build_words();
    connect(next_, &QPushButton::clicked, this, &RunPage::begin);
    connect(which_, &QComboBox::activated, this, [this](int i) { sums_.show_run(i); });
    refresh();
}

const job::Run* RunPage::run() const {
    const job::PlannedTest* t = sums_.test();
    return t && sums_.run() < static_cast<int>(t->runs.size()) ? &t->runs[static_cast<std::size_t>(sums_.run())]
                                                               : nullptr;
}

void RunPage::edit(const QString& what, const QString& merge, const std::function<void(job::Job&, int, int)>& change) {
    const int at = sums_.index(), which = sums_.run();
    if (run())
        document_.edit(what, merge.isEmpty() ? merge : QString("%1 %2 %3").arg(merge).arg(at).arg(which),
                       [&](job::Job& job) { change(job, at, which); });
}

void RunPage::build_words() {
    auto* column = plain_column(body_);
    column->setSpacing(4);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(4);
    form->addRow(tr("Setup"), state_);
    form->addRow(tr("Driver"), driver_);
    form->addRow(tr("Time"), time_);
    form->addRow(tr("Ground"), ground_);
    note_->setObjectName("run note");
    note_->setAccessibleName(tr("Note"));
    note_->setTabChangesFocus(true);
    note_->setFixedHeight(52);
    form->addRow(tr("Note"), note_);
    column->addLayout(form);
    aids_->setObjectName("aids on");
    more_->setObjectName("more conditions");
    aboard_->setObjectName("run aboard");
    aboard_->setAccessibleName(tr("Aboard in this run"));
    aboard_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    aboard_->setPopupMode(QToolButton::InstantPopup);
    aboard_->setMenu(new QMenu(aboard_));
    column->addWidget(aboard_);
    auto* ticks = new QHBoxLayout;
    ticks->addWidget(aids_);
    ticks->addWidget(more_);
    column->addLayout(ticks);
    plain_column(conditions_);
    column->addWidget(conditions_);
    column->addWidget(felt_words_);
    plain_column(marks_);
    column->addWidget(marks_);
    column->addWidget(felt_);
    plain_column(readings_);
    column->addWidget(readings_);
    slips_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    column->addWidget(slips_);
    auto* leave = new QHBoxLayout;
    leave->addWidget(out_, 1);
    leave->addWidget(leave_);
    reason_->setPlaceholderText(tr("Why it is left out"));
    column->addWidget(reason_);
    column->addLayout(leave);
    column->addWidget(remove_, 0, Qt::AlignLeft);
    connect(state_, &QComboBox::activated, this, [this](int i) {
        edit(tr("setup of a run"), {}, [i](job::Job& j, int t, int r) { edit::set_run_state(j, t, r, i); });
    });
    const std::pair<QLineEdit*, edit::RunWords> lines[] = {
        {driver_, edit::RunWords::Driver}, {time_, edit::RunWords::Time}, {ground_, edit::RunWords::Ground}};
    for (const auto& [edited, which] : lines)
        connect(edited, &QLineEdit::textEdited, this, [this, which = which](const QString& text) {
            edit(tr("words of a run"), QString("run words %1").arg(static_cast<int>(which)),
                 [&](job::Job& j, int t, int r) { edit::set_run_words(j, t, r, which, text.toStdString()); });
        });
    connect(note_, &QPlainTextEdit::textChanged, this, [this] {
        if (run() && note_->toPlainText() != qs(run()->note))
            edit(tr("words of a run"), "run note", [&](job::Job& j, int t, int r) {
                edit::set_run_words(j, t, r, edit::RunWords::Note, note_->toPlainText().toStdString());
            });
    });
    connect(aids_, &QCheckBox::clicked, this, [this](bool on) {
        edit(tr("driving aids"), {}, [on](job::Job& j, int t, int r) { edit::set_aids(j, t, r, on); });
    });
    connect(more_, &QCheckBox::clicked, this, [this] { conditions_->setVisible(more_->isChecked()); });
    connect(felt_, &QPushButton::clicked, this, [this] {
        edit(tr("what was felt"), {}, [](job::Job& j, int t, int r) { edit::set_felt(j, t, r, true); });
    });
    connect(marker_, &QLineEdit::textChanged, this, &RunPage::show_marks);
    connect(remove_, &QPushButton::clicked, this,
            [this] { edit(tr("run removed"), {}, [](job::Job& j, int t, int r) { edit::remove_run(j, t, r); }); });
    connect(leave_, &QPushButton::clicked, this, [this] {
        const std::string channel = out_->currentData().toString().toStdString(),
                          why = reason_->text().trimmed().toStdString();
        const bool back = leave_->text() == tr("Count it again");
        if (!back && why.empty()) {
            slips_->setText(tr("Say why it is left out: a reading goes only with a reason."));
            slips_->show();
            reason_->setFocus();
            return;
        }
        edit(back ? tr("counts again") : tr("left out"), {},
             [&](job::Job& j, int t, int r) { edit::discard(j, t, r, channel, back ? std::string() : why); });
        reason_->clear();
    });
    connect(out_, &QComboBox::activated, this, &RunPage::refresh);
}

void RunPage::begin() {
    const proof::Protocol* p = sums_.protocol();
    if (!sums_.test() || !p) return;
    const bool nothing_felt = p->sort != proof::Sort::Driving && p->sort != proof::Sort::Felt;
    document_.edit(tr("run begun"), {}, [&](job::Job& job) {
        edit::begin_run(job, sums_.index(), QTime::currentTime().toString("HH:mm").toStdString(), nothing_felt);
    });
    sums_.show_run(static_cast<int>(sums_.test()->runs.size()) - 1);
    if (driver_->text().isEmpty())
        driver_->setFocus();
    else if (nothing_felt && !rows_.empty())
        rows_.front()->line()->setFocus();
    else if (!mark_rows_.empty())
        mark_rows_.front().slider->setFocus();
}

QWidget* RunPage::mark_row(const proof::Scale& scale) {
    auto* row = new QWidget;
    auto* column = plain_column(row);
    auto* label = new QLabel(tr("<b>%1</b>").arg(tr(scale.label)));
    auto* ends = new QHBoxLayout;
    auto* slider = new QSlider(Qt::Horizontal);
    slider->setObjectName(QString("mark ") + scale.key);
    slider->setAccessibleName(tr("%1, from %2 to %3").arg(tr(scale.label), tr(scale.low), tr(scale.high)));
    slider->setRange(0, 20);
    auto* value = new QLabel;
    value->setFixedWidth(34);
    auto* words = new QLabel(tr("%1 to %2").arg(tr(scale.low), tr(scale.high)));
    words->setStyleSheet("font-size: 13px;");
    auto* head = new QHBoxLayout;
    head->addWidget(label);
    head->addStretch();
    head->addWidget(words);
    column->addLayout(head);
    ends->addWidget(slider, 1);
    ends->addWidget(value);
    column->addLayout(ends);
    const auto put_mark = [this, key = std::string(scale.key), slider] {
        const std::string who = marker_->text().trimmed().isEmpty() ? (run() ? run()->driver : std::string())
                                                                    : marker_->text().trimmed().toStdString();
        edit(tr("what was felt"), "mark " + qs(key),
             [&](job::Job& j, int t, int r) { edit::put_mark(j, t, r, who, key, slider->value() / 2.0); });
    };
    connect(slider, &QSlider::sliderMoved, this, put_mark);
    connect(slider, &QSlider::actionTriggered, this, [slider, put_mark](int) {
        slider->setValue(slider->sliderPosition());
        put_mark();
    });
    mark_rows_.push_back({scale.key, slider, value});
    return row;
}

EntryRow* RunPage::reading_row(const proof::Channel& c) {
    const int at = sums_.index(), which = sums_.run();
    return new EntryRow(document_, tr(c.spec.label), "reading of " + QString(c.spec.key),
                        {c.spec, edit::reading_key(at, which, c.spec.key),
                         [this, spec = c.spec](const job::Job&) {
                             if (const job::Run* r = run())
                                 for (const job::Reading& reading : r->readings)
                                     if (reading.channel == spec.key)
                                         return QString(reading.bound == job::Bound::More   ? "> "
                                                        : reading.bound == job::Bound::Less ? "< "
                                                                                            : "") +
                                                qs(job::show(reading.value, spec, document_.units()));
                             return QString();
                         },
                         [at, which, spec = c.spec](job::Job& job, const edit::Entry& e) {
                             edit::type_reading(job, at, which, spec, e);
                         },
                         true});
}

EntryRow* RunPage::condition_row(const job::FieldSpec& spec) {
    const int at = sums_.index(), which = sums_.run();
    return new EntryRow(
        document_, tr(spec.label), "condition " + QString(spec.key),
        {spec, edit::condition_key(at, which, spec.key),
         [this, spec](const job::Job&) {
             if (const job::Run* r = run())
                 for (const job::Amount& a : r->conditions)
                     if (a.of == spec.key) return qs(job::show(a.si, spec, document_.units()));
             return QString();
         },
         [at, which, spec](job::Job& job, const edit::Entry& e) { edit::type_condition(job, at, which, spec, e); }});
}

void RunPage::build_rows() {
    const proof::Protocol* p = sums_.protocol();
    const QString of = run() ? QString("%1 %2 %3").arg(sums_.index()).arg(sums_.run()).arg(p->key) : QString();
    if (of == built_) return;
    built_ = of;
    rows_.clear();
    mark_rows_.clear();
    marker_->setParent(this);
    for (QWidget* part : {marks_, readings_, conditions_}) clear(part);
    if (of.isEmpty()) return;
    marker_->setPlaceholderText(tr("Who marks (the driver)"));
    marker_->clear();
    marks_->layout()->addWidget(marker_);
    marker_->show();
    const auto add = [](QWidget* to, QWidget* row) {
        to->layout()->addWidget(row);
        row->show();
    };
    for (const proof::Scale& scale : proof::scales_of(*p)) add(marks_, mark_row(scale));
    for (const proof::Channel& c : p->channels) add(readings_, rows_.emplace_back(reading_row(c)));
    for (const job::FieldSpec& spec : proof::conditions()) add(conditions_, rows_.emplace_back(condition_row(spec)));
}

void RunPage::show_aboard() {
    QStringList aboard;
    aboard_->menu()->clear();
    for (const job::Load& l : document_.job().vehicle.loads) {
        const bool on = std::ranges::find(run()->aboard, l.id) != run()->aboard.end();
        if (on) aboard << qs(l.name);
        QAction* action = aboard_->menu()->addAction(qs(l.name));
        action->setCheckable(true);
        action->setChecked(on);
        connect(action, &QAction::triggered, this, [this, id = l.id](bool put) {
            edit(tr("what is aboard"), {}, [&](job::Job& j, int t, int r) { edit::set_aboard(j, t, r, id, put); });
        });
    }
    // As many names as go in whole; the menu has them all.
    QString words = tr("Aboard: %1").arg(aboard.isEmpty() ? tr("nothing") : aboard.join(", "));
    if (QFontMetrics(aboard_->font()).horizontalAdvance(words) > 270)
        words = tr("Aboard: %n things", nullptr, static_cast<int>(aboard.size()));
    aboard_->setText(words);
    aboard_->setToolTip(aboard.join(", "));
}

void RunPage::show_marks() {
    const job::Run* r = run();
    if (!r) return;
    const std::string who = marker_->text().trimmed().isEmpty() ? r->driver : marker_->text().trimmed().toStdString();
    for (const Mark& mark : mark_rows_) {
        const auto at = std::ranges::find_if(
            r->impressions, [&](const job::Impression& i) { return i.person == who && i.scale == mark.scale; });
        const bool none = at == r->impressions.end();
        const QSignalBlocker quiet(mark.slider);
        mark.slider->setValue(none ? 10 : static_cast<int>(std::lround(2 * at->mark)));
        mark.value->setText(none ? tr("·") : qs(units::trimmed(at->mark, 1)));
    }
}

void RunPage::show_doubts() {
    QStringList words;
    const auto which = static_cast<std::size_t>(sums_.run());
    for (std::size_t c = 0; c < sums_.protocol()->channels.size(); ++c)
        if (const auto slip = proof::slip(*sums_.test(), which, c, document_.units()))
            words << qs(say::words_of(*slip, *sums_.test(), which, c, document_.units()));
    slips_->setText(words.join("\n"));
    slips_->setVisible(!words.isEmpty());
}

void RunPage::refresh() {
    const job::PlannedTest* t = sums_.test();
    if (!t || !sums_.protocol()) return;
    const QString was = built_;
    build_rows();
    const bool another = was != built_;
    const bool ready = t->predicted();
    next_->setEnabled(ready && !sums_.hidden());
    next_->setText(t->runs.size() < t->order.size() ? tr("Next run") : tr("One more run"));
    Entries runs;
    for (std::size_t r = 0; r < t->runs.size(); ++r)
        runs.emplace_back(tr("Run %1: %2 %3").arg(r + 1).arg(letter_of(t->runs[r].state), qs(t->runs[r].driver)),
                          QVariant());
    refill(which_, runs);
    which_->setCurrentIndex(sums_.run());
    const job::Run* r = run();
    none_->setVisible(!r || sums_.hidden());
    none_->setText(ready ? tr("No run yet. “Next run” takes the next setup of the order.")
                         : tr("First the guesses and the prediction (Guess): what is read before it would bend it."));
    body_->setVisible(r && !sums_.hidden());
    if (!r || sums_.hidden()) return;
    const int state = r->state;
    refill(state_, states_of(*t));
    state_->setCurrentIndex(state);
    show_kept(driver_, r->driver, another);
    show_kept(time_, r->time, another);
    show_kept(ground_, r->ground, another);
    if (note_->toPlainText() != qs(r->note)) note_->setPlainText(qs(r->note));
    aids_->setChecked(r->aids_on);
    show_aboard();
    conditions_->setVisible(more_->isChecked() || !r->conditions.empty());
    felt_words_->setText(r->felt ? tr("<b>What was felt</b>")
                                 : tr("<b>What was felt</b>: before this run's numbers are shown"));
    felt_->setVisible(!r->felt);
    readings_->setVisible(r->felt && !rows_.empty());
    for (QWidget* w : {static_cast<QWidget*>(reason_), static_cast<QWidget*>(out_), static_cast<QWidget*>(leave_)})
        w->setVisible(r->felt);
    Entries readings{{tr("the whole run"), QString()}};
    for (const job::Reading& reading : r->readings)
        readings.emplace_back(
            tr(sums_.protocol()->channels[proof::channel_at(*sums_.protocol(), reading.channel)].spec.label),
            qs(reading.channel));
    refill(out_, readings, out_->currentData().toString());
    std::string out_because = r->discarded;
    for (const job::Reading& reading : r->readings)
        if (reading.channel == out_->currentData().toString().toStdString()) out_because = reading.discarded;
    leave_->setText(out_because.empty() ? tr("Leave out") : tr("Count it again"));
    // What is typed for one run or reading is no reason for another.
    const QString reason_of = built_ + " " + out_->currentData().toString();
    if (reason_of != std::exchange(reason_of_, reason_of) || !out_because.empty())
        if (!reason_->hasFocus() || out_because.empty()) reason_->setText(qs(out_because));
    if (r->felt)
        show_doubts();
    else
        slips_->hide();
    for (EntryRow* row : rows_) row->refresh();
    show_marks();
}

} // namespace dervish::app

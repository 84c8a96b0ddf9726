#include "app/shell/top_bar.h"
#include "core/book/upkeep.h"
#include "core/edit/book.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"

#include "app/paint/pen.h"
#include "app/shell/cards.h"
#include "app/shell/differs_card.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QDate>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QStyle>
#include <QToolButton>

namespace dervish::app {
namespace {
/// The job's name, and under it what is felt, in two lines where one does not hold it.
class JobWords : public QWidget {
public:
    explicit JobWords(const Document& document) : document_(document) {}

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        const job::Job& job = document_.job();
        paint::text_within(p, {0, 12}, width(), qs(job.name), 16, theme().ink, true);
        double y = 30;
        for (const QString& line : paint::in_lines(qs(job.complaint), QFontMetricsF(face(13)), {1.2 * width()})) {
            paint::text_within(p, {0, y}, width(), line, 13, theme().soft);
            y += 16;
        }
    }

private:
    const Document& document_;
};
} // namespace

void go_back_to(Document& document, int entry) {
    document.come_back();
    document.edit(QObject::tr("back to what stood before"), {},
                  [entry](job::Job& job) { edit::go_back_to(job, entry); });
    document.set_look(Look::Trial);
}

TopBar::TopBar(Document& document, QMenu* job_menu, QWidget* parent)
    : QWidget(parent), document_(document), words_(new JobWords(document)), state_(new QLabel),
      fitted_(new QPushButton), trial_(new QPushButton), fit_(new QPushButton(tr("Fit it …"))),
      found_(new QPushButton(tr("Found so …"))) {
    setObjectName("panel");
    setFixedHeight(62);
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(12, 3, 14, 3);
    line->setSpacing(8);
    auto* mark = new QToolButton;
    mark->setObjectName("job menu");
    mark->setIcon(QIcon(icon("mark", theme().ink, {40, 40})));
    mark->setIconSize({27, 27});
    mark->setText(tr("Menu"));
    mark->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    mark->setPopupMode(QToolButton::InstantPopup);
    mark->setMenu(job_menu);
    mark->setStyleSheet("QToolButton { border: none; background: transparent; padding: 0; font-size: 13px; } "
                        "QToolButton::menu-indicator { image: none; }");
    mark->setToolTip(tr("The job: open, save, units, look"));
    mark->setAccessibleName(tr("Job menu"));
    line->addWidget(mark);
    line->addWidget(words_, 1);
    fitted_->setObjectName("look fitted");
    trial_->setObjectName("look trial");
    for (QPushButton* b : {fitted_, trial_}) {
        b->setCheckable(true);
        b->setFixedHeight(56);
    }
    line->addWidget(fitted_);
    auto* differs = new QToolButton;
    differs_ = differs;
    differs->setText("→");
    differs->setFixedSize(32, 34);
    differs->setStyleSheet("QToolButton { padding: 0; font-size: 18px; }");
    differs->setToolTip(tr("What differs, and what each difference does (D)"));
    differs->setAccessibleName(tr("What differs"));
    differs->setObjectName("differs");
    connect(differs, &QToolButton::clicked, this, [this] { show_differences(window(), document_); });
    line->addWidget(differs);
    line->addWidget(trial_);
    auto* more = new QToolButton;
    more->setText("…");
    more->setFixedHeight(34);
    more->setToolTip(tr("Names, kept setups, start Trial again"));
    more->setAccessibleName(tr("Setups"));
    more->setObjectName("setups");
    line->addWidget(more);
    fit_->setObjectName("fit it");
    found_->setObjectName("found so");
    for (QPushButton* b : {fit_, found_}) b->setFixedHeight(34);
    line->addWidget(fit_);
    line->addWidget(found_);
    state_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    state_->setFixedWidth(76);
    state_->setStyleSheet("font-size: 13px; color: " + theme().soft.name());
    line->addWidget(state_);

    connect(fitted_, &QPushButton::clicked, this, [this] {
        document_.set_look(Look::Fitted);
        refresh();
    });
    connect(trial_, &QPushButton::clicked, this, [this] {
        document_.set_look(Look::Trial);
        refresh();
    });
    connect(more, &QToolButton::clicked, this, &TopBar::choose_trial);
    connect(fit_, &QPushButton::clicked, this, [this] {
        if (document_.looking_back())
            document_.come_back();
        else
            change_fitted(false);
    });
    connect(found_, &QPushButton::clicked, this, [this] {
        if (const auto entry = document_.looking_back())
            go_back_to(document_, *entry);
        else
            change_fitted(true);
    });
    connect(&document_, &Document::changed, this, &TopBar::refresh);
    connect(&document_, &Document::refused, this, [this] {
        state_->setText(tr("nothing changes in the past"));
        state_->setStyleSheet("font-size: 13px; font-weight: bold; color: " + theme().caution.name());
    });
    connect(&document_.undo(), &QUndoStack::cleanChanged, this, &TopBar::refresh);
    refresh();
}

void TopBar::refresh() {
    const job::Job& job = document_.job();
    if (const QString told = qs(job.name + "\n" + job.complaint); words_->toolTip() != told) {
        words_->setToolTip(told);
        words_->setAccessibleName(qs(job.name + ". " + job.complaint));
        words_->update();
    }
    const int wide = width() < 1200 ? 176 : 226;
    const auto setup = [wide](QPushButton* button, const QString& role, const std::string& name, bool chosen,
                              bool dashed) {
        const QString told = QString("%1\n%2\n%3").arg(wide).arg(role, qs(name));
        if (button->property("told") != told) {
            const QStringList lines = paint::in_lines(qs(name), QFontMetricsF(face(13)), {wide - 28.0});
            button->setText(role + "\n" + lines.join('\n'));
            button->setToolTip(qs(name));
            button->setFixedWidth(wide);
            button->setProperty("told", told);
        }
        button->setChecked(chosen);
        const Theme& t = theme();
        const QString style =

            QString("QPushButton { text-align: left; padding: 0 12px; font-size: 13px; font-weight: normal; border: "
                    "%1px %2 %3; %4 } "
                    "QPushButton:focus { border: 2px solid %3; }")
                .arg(chosen ? 2 : 1)
                .arg(dashed ? "dashed" : "solid", t.ink.name(),
                     chosen ? QString("background: %1; color: %2;").arg(t.selected.name(), t.on_selected.name()) : "");
        if (button->styleSheet() != style) button->setStyleSheet(style);
    }; // the style of what has it already stays: polishing is slow
    const auto back = document_.looking_back();
    const bool differs = !job::nothing_tried(job);
    for (QWidget* w : {static_cast<QWidget*>(trial_), differs_}) w->setVisible(!back);
    const QString soft = "font-size: 13px; color: " + theme().soft.name();
    if (state_->styleSheet() != soft) state_->setStyleSheet(soft);
    fit_->setText(back ? tr("Back to now") : tr("Fit it …"));
    found_->setText(back ? tr("Put it on Trial") : tr("Found so …"));
    if (back) {
        const job::Entry& e = job.book[static_cast<std::size_t>(*back)];
        setup(fitted_, tr("AS IT STOOD, %1").arg(qs(e.date)), job.fitted.name, true, true);
        for (QPushButton* b : {fit_, found_}) b->setEnabled(true);
        state_->setText(tr("read only"));
        return;
    }
    setup(fitted_, tr("FITTED"), job.fitted.name, document_.look() == Look::Fitted, true);
    setup(trial_, tr("TRIAL"), differs ? job.trial.name : tr("nothing tried, as Fitted").toStdString(),
          document_.look() == Look::Trial, false);
    fit_->setEnabled(differs && !document_.old());
    found_->setEnabled(differs && !document_.old());
    state_->setText((document_.unsaved()        ? tr("unsaved")
                     : document_.path().empty() ? tr("no file yet")
                                                : tr("saved")) +
                    "\n" +
                    (document_.units() == units::System::Metric ? tr("mm · N/mm")
                     : document_.units() == units::System::Inch ? tr("in · lbf/in")
                                                                : tr("in · N/mm")) +
                    due_words());
}

QString TopBar::due_words() {
    const job::Job& job = document_.job();
    if (!(due_.book == job.book && due_.upkeep == job.upkeep)) {
        const std::string today = QDate::currentDate().toString(Qt::ISODate).toStdString();
        due_ = {job.book, job.upkeep, 0};
        if (!job.upkeep.empty()) due_.count = book::count_due(book::due(job, book::now_of(book::moments(job), today)));
    }
    return due_.count > 0 ? "\n" + tr("upkeep: %1").arg(due_.count) : QString();
}

void TopBar::choose_trial() {
    QMenu menu(this);
    connect(menu.addAction(tr("Job's name and complaint …")), &QAction::triggered, this, &TopBar::edit_job_words);
    connect(menu.addAction(tr("Name of Trial …")), &QAction::triggered, this, [this] { rename(true); });
    connect(menu.addAction(tr("Name of Fitted …")), &QAction::triggered, this, [this] { rename(false); });
    menu.addSeparator();
    connect(menu.addAction(tr("Start Trial again from Fitted")), &QAction::triggered, this,
            [this] { document_.edit(tr("Trial from Fitted"), {}, edit::begin_trial_again); });
    connect(menu.addAction(tr("Keep Trial as “%1”").arg(qs(document_.job().trial.name))), &QAction::triggered, this,
            [this] { document_.edit(tr("setup kept"), {}, edit::keep_trial); });
    menu.addSeparator();
    for (const bool trial : {false, true})
        connect(
            menu.addAction(
                tr("Call “%1” the standard").arg(qs(trial ? document_.job().trial.name : document_.job().fitted.name))),
            &QAction::triggered, this, [this, trial] { call_standard(trial); });
    if (!document_.job().kept.empty()) menu.addSeparator();
    for (const job::Setup& s : document_.job().kept)
        connect(menu.addAction(tr("Try “%1”").arg(qs(s.name))), &QAction::triggered, this, [this, name = s.name] {
            document_.set_look(Look::Trial); // it is tried, not what is on the car
            document_.edit(tr("kept setup"), {}, [&](job::Job& job) { edit::try_kept(job, name); });
        });
    menu.exec(QCursor::pos());
}

void TopBar::call_standard(bool trial) {
    document_.edit(tr("the standard"), {}, [trial](job::Job& job) { edit::call_standard(job, trial); });
}

void TopBar::rename(bool trial) {
    bool good = false;
    const job::Job& job = document_.job();
    const QString name = QInputDialog::getText(this, trial ? tr("Name of Trial") : tr("Name of Fitted"), tr("Name"),
                                               QLineEdit::Normal, qs(trial ? job.trial.name : job.fitted.name), &good);
    if (good && !name.trimmed().isEmpty())
        document_.edit(tr("name of a setup"), {},
                       [&](job::Job& j) { edit::name_setup(j, trial, name.trimmed().toStdString()); });
}

void TopBar::edit_job_words() {
    bool good = false;
    const QString name = QInputDialog::getText(this, tr("Job"), tr("Name of the job"), QLineEdit::Normal,
                                               qs(document_.job().name), &good);
    if (!good) return;
    const QString complaint = QInputDialog::getText(this, tr("Job"), tr("What is felt, and where"), QLineEdit::Normal,
                                                    qs(document_.job().complaint), &good);
    document_.edit(tr("words of the job"), {}, [&](job::Job& j) {
        edit::name_job(j, name.toStdString(), good ? complaint.toStdString() : j.complaint);
    });
}

void TopBar::change_fitted(bool found_so) {
    FitSheet sheet;
    if (!ask_fit_sheet(this, document_, found_so, sheet)) return;
    document_.edit(found_so ? tr("Found so") : tr("Fit it"), {}, [&](job::Job& job) {
        edit::change_fitted(job, {sheet.date.toStdString(), sheet.reason.toStdString(), sheet.odometer, sheet.measured},
                            found_so);
    });
}

} // namespace dervish::app

#include "app/book/upkeep_page.h"

#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "app/words.h"
#include "core/edit/book.h"
#include "core/say/book_words.h"

#include <QFormLayout>
#include <QListWidget>
#include <QShortcut>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace dervish::app {
namespace {
constexpr const char* places[] = {
    "",         "front/bar",   "front/mounts", "front/links",  "front/springs", "front/dampers", "front/tyres",
    "rear/bar", "rear/mounts", "rear/links",   "rear/springs", "rear/dampers",  "rear/tyres"};
} // namespace

UpkeepPage::UpkeepPage(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), list_(new QListWidget),
      date_(named_line("done date", tr("Date"))), clock_(named_line("done clock", tr("On the clock"))),
      found_(named_line("done found", tr("What was found"))), person_(named_line("done by", tr("Who"))),
      measured_(named_line("done measured", tr("Measured"))), what_(named_line("upkeep what", tr("What is done"))),
      every_(named_line("upkeep every", tr("Every distance"))),
      days_(named_line("upkeep days", tr("Every so many days"))), of_(named_combo("upkeep of", tr("Of what"))),
      after_(named_combo("upkeep after", tr("After each"))), measured_label_(new QLabel),
      error_(named_words("upkeep error")), none_(named_words("no upkeep")), chosen_(named_words("upkeep chosen")),
      done_(named_button(tr("Done"), "upkeep done")), usual_(named_button(tr("Add what is usual"), "usual upkeep")),
      change_(named_button(tr("Change this"), "change upkeep")), add_(named_button(tr("Add as new"), "add upkeep")),
      remove_(named_button(tr("Remove"), "remove upkeep")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    none_->setText(tr("Nothing is planned. “Add what is usual” begins with intervals of our own guess for the parts on "
                      "the car; what the maker's book says goes before them."));
    column->addWidget(none_);
    column->addWidget(usual_, 0, Qt::AlignLeft);
    list_->setObjectName("upkeep");
    list_->setAccessibleName(tr("Upkeep"));
    list_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff); // as high as it is long
    list_->setWordWrap(true);
    list_->setTextElideMode(Qt::ElideNone);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(chosen_);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("On"), date_);
    form->addRow(tr("On the clock"), clock_);
    form->addRow(tr("Found"), found_);
    form->addRow(measured_label_, measured_);
    form->addRow(tr("Who"), person_);
    column->addLayout(form);
    column->addWidget(done_);
    done_->setToolTip(tr("Enter in the list does it too"));
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    column->addWidget(list_);
    auto* plan = new QFormLayout;
    plan->setVerticalSpacing(5);
    plan->addRow(tr("What"), what_);
    plan->addRow(tr("Of"), of_);
    plan->addRow(tr("Every"), every_);
    plan->addRow(tr("Days"), days_);
    plan->addRow(tr("After each"), after_);
    column->addLayout(plan);
    auto* row = new QHBoxLayout;
    for (QPushButton* b : {change_, add_, remove_}) {
        b->setStyleSheet("padding-left: 8px; padding-right: 8px;");
        row->addWidget(b);
    }
    column->addLayout(row);
    for (const char* place : places) {
        QString words = QString(place).replace('/', ' ');
        of_->addItem(words.isEmpty() ? tr("nothing single") : words, QString(place));
    }
    for (const QString& word : {tr("not by use"), tr("day on a track"), tr("day of rocks"), tr("day of water")})
        after_->addItem(word);
    connect(list_, &QListWidget::currentRowChanged, this, [this](int at) {
        if (at < 0) return;
        id_ = list_->item(at)->data(Qt::UserRole).toString().toStdString();
        error_->hide();
        show_chosen();
    });
    connect(done_, &QPushButton::clicked, this, &UpkeepPage::done);
    auto* key = new QShortcut(Qt::Key_Return, list_, nullptr, nullptr, Qt::WidgetShortcut);
    connect(key, &QShortcut::activated, this, &UpkeepPage::done);
    connect(usual_, &QPushButton::clicked, this, &UpkeepPage::add_usual);
    connect(change_, &QPushButton::clicked, this, [this] { put(false); });
    connect(add_, &QPushButton::clicked, this, [this] { put(true); });
    connect(remove_, &QPushButton::clicked, this, [this] {
        document_.edit(tr("upkeep removed"), {}, [&](job::Job& job) { edit::remove_upkeep(job, id_); });
    });
    refresh();
}

const job::Upkeep* UpkeepPage::chosen() const {
    const auto& all = document_.job().upkeep;
    const auto at = std::ranges::find(all, id_, &job::Upkeep::id);
    return at == all.end() ? nullptr : &*at;
}

void UpkeepPage::tell(const BadInput& wrong) {
    error_->setText(qs(wrong.problem() + "; " + wrong.accepted()));
    error_->show();
}

double UpkeepPage::distance(const QString& text, const char* at) const {
    return text.trimmed().isEmpty()
               ? 0
               : job::parse(text.trimmed().toStdString(), edit::clock_spec(), document_.units(), at);
}

void UpkeepPage::done() {
    const job::Upkeep* u = chosen();
    if (!u) return;
    error_->hide();
    try {
        edit::Done done;
        done.system = document_.units();
        done.date =
            date_->text().trimmed().isEmpty() ? story_.today().toStdString() : date_->text().trimmed().toStdString();
        // Not said: where the clock stood last, which is what is due by.
        done.odometer =
            clock_->text().trimmed().isEmpty() ? story_.now().odometer : distance(clock_->text(), "odometer");
        done.found = found_->text().trimmed().toStdString();
        done.person = person_->text().trimmed().toStdString();
        const std::string typed = measured_->text().trimmed().toStdString();
        if (!typed.empty() && u->of.ends_with("/links"))
            done.play = job::parse(typed, {"play", "Play", units::Quantity::Length, job::Tool::Calliper, 0, 0.02},
                                   document_.units(), "play");
        if (!typed.empty() && u->of.ends_with("/mounts"))
            done.rate_left =
                job::parse(typed, {"rate_left", "Rate left", units::Quantity::Number, job::Tool::Test, 5, 100},
                           document_.units(), "rate_left") /
                100;
        document_.edit(tr("upkeep done"), {},
                       [&](job::Job& job) { edit::upkeep_done(job, id_, done, story_.today().toStdString()); });
        if (document_.looking_back()) return;
        for (QLineEdit* line : {found_, measured_}) line->clear();
    } catch (const BadInput& e) {
        tell(e);
    }
}

void UpkeepPage::add_usual() {
    document_.edit(tr("usual upkeep"), {}, [&](job::Job& job) {
        for (const job::Upkeep& u : book::usual_upkeep(job, story_.now()))
            if (std::ranges::none_of(job.upkeep,
                                     [&](const job::Upkeep& is) { return is.what == u.what && is.of == u.of; }))
                edit::put_upkeep(job, u);
    });
}

void UpkeepPage::put(bool fresh) {
    const job::Upkeep* was = chosen();
    error_->hide();
    try {
        job::Upkeep u = was && !fresh ? *was : job::Upkeep{};
        if (!was || fresh) {
            u.id = book::fresh_upkeep_id(document_.job());
            u.since = story_.today().toStdString();
            u.since_odometer = story_.now().odometer;
        }
        u.what = what_->text().trimmed().toStdString();
        u.of = of_->currentData().toString().toStdString();
        u.every = distance(every_->text(), "every");
        const QString days = days_->text().trimmed();
        u.days = days.isEmpty() ? 0
                                : job::parse(days.toStdString(),
                                             {"days", "Days", units::Quantity::Number, job::Tool::Test, 0, 36500},
                                             document_.units(), "days");
        u.after = static_cast<job::Wears>(std::max(0, after_->currentIndex()));
        document_.edit(fresh ? tr("upkeep planned") : tr("upkeep changed"), {},
                       [&](job::Job& job) { edit::put_upkeep(job, u); });
        id_ = u.id;
        refresh();
    } catch (const BadInput& e) {
        tell(e);
    }
}

void UpkeepPage::refresh() {
    const job::Job& job = document_.job();
    const QSignalBlocker quiet(list_);
    list_->clear();
    std::vector<book::Due> all = story_.due();
    std::ranges::stable_sort(all, std::greater{}, &book::Due::when);
    for (const book::Due& d : all) {
        const job::Upkeep& u = job.upkeep[d.upkeep];
        const QString place = qs(say::place_words(u)), sign = d.when == book::When::Due ? tr("! ") : QString();
        auto* item = new QListWidgetItem(tr("%1%2%3\n%4")
                                             .arg(sign, place.isEmpty() ? QString() : place + ": ", qs(u.what),
                                                  qs(say::words_of(job, d, document_.units()))));
        item->setData(Qt::UserRole, qs(u.id));
        if (d.when == book::When::Due) item->setForeground(theme().caution);
        list_->addItem(item);
    }
    if (!chosen()) id_ = all.empty() ? std::string() : job.upkeep[all.front().upkeep].id;
    for (int i = 0; i < list_->count(); ++i)
        if (list_->item(i)->data(Qt::UserRole).toString() == qs(id_)) list_->setCurrentRow(i);
    int high = 2 * list_->frameWidth() + 2;
    for (int i = 0; i < list_->count(); ++i) high += list_->sizeHintForRow(i);
    list_->setFixedHeight(high);
    none_->setVisible(all.empty());
    chosen_->setVisible(!all.empty());
    list_->setVisible(!all.empty());
    for (QWidget* w : {static_cast<QWidget*>(done_), static_cast<QWidget*>(change_), static_cast<QWidget*>(remove_)})
        w->setEnabled(!all.empty());
    date_->setPlaceholderText(story_.today());
    clock_->setPlaceholderText(qs(say::distance_words(story_.now().odometer, document_.units())));
    show_chosen();
}

void UpkeepPage::show_chosen() {
    const job::Upkeep* u = chosen();
    const bool links = u && u->of.ends_with("/links"), mounts = u && u->of.ends_with("/mounts");
    measured_->setVisible(links || mounts);
    measured_label_->setVisible(links || mounts);
    measured_label_->setText(
        links ? tr("Play, %1").arg(qs(units::shown(units::Quantity::Length, document_.units()).symbol))
              : tr("Rate left, %"));
    if (!u) return;
    const QString place = qs(say::place_words(*u));
    chosen_->setText(
        tr("<b>%1%2</b>").arg(place.isEmpty() ? QString() : place.toHtmlEscaped() + ": ", qs(u->what).toHtmlEscaped()));
    const bool another = std::exchange(shown_, u->id) != u->id;
    show_kept(what_, u->what, another);
    if (another) what_->setCursorPosition(0);
    show_kept(every_, u->every > 0 ? job::show(u->every, edit::clock_spec(), document_.units()) : std::string(),
              another);
    show_kept(days_, u->days > 0 ? units::trimmed(u->days, 0) : std::string(), another);
    if (another) {
        of_->setCurrentIndex(std::max(0, of_->findData(qs(u->of))));
        after_->setCurrentIndex(static_cast<int>(u->after));
    }
}

} // namespace dervish::app

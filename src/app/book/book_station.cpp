#include "app/book/book_station.h"

#include "app/book/entry_page.h"
#include "app/book/paper_row.h"
#include "app/book/people_page.h"
#include "app/book/sheet_page.h"
#include "app/book/shelf_page.h"
#include "app/book/story_drawing.h"
#include "app/book/upkeep_page.h"
#include "app/book/write_page.h"
#include "app/shell/theme.h"
#include "app/widgets/chip.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/page_pieces.h"
#include "app/widgets/station_frame.h"
#include "core/say/book_words.h"

#include <QStackedWidget>

#include <algorithm>

namespace dervish::app {
namespace {
constexpr int reading_high = 222; ///< px

/// Figures of the car as it stood beside those of today.
struct Compared {
    const char* label;
    study::Outcome outcome;
};
constexpr Compared compared[] = {{QT_TRANSLATE_NOOP("BookStation", "roll"), study::RollGradient},
                                 {QT_TRANSLATE_NOOP("BookStation", "front share"), study::FrontShare},
                                 {QT_TRANSLATE_NOOP("BookStation", "lift height"), study::LiftHeight},
                                 {QT_TRANSLATE_NOOP("BookStation", "flex front"), study::FrontTravel},
                                 {QT_TRANSLATE_NOOP("BookStation", "flex rear"), study::RearTravel}};
} // namespace

BookStation::BookStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), story_(new StoryView(document, this)),
      drawing_(new StoryDrawing(document, *story_)), rows_(new FigureRows("book rows")), parts_(new QButtonGroup(this)),
      axis_(new QButtonGroup(this)), words_(named_line("book words", tr("Look for words"))),
      part_(named_combo("book part", tr("Only of this part"))),
      person_(named_combo("book person", tr("Only of this person"))), everything_(named_button(tr("All"), "book all")),
      papers_(new PaperRow(document, *story_)), entry_(new EntryPage(document, *story_)),
      write_(new WritePage(document, *story_)), shelf_(new ShelfPage(document, *story_)),
      upkeep_(new UpkeepPage(document, *story_)), people_(new PeoplePage(document, *story_)),
      sheet_(new SheetView(document)), sheet_page_(new SheetPage(document, *sheet_)), left_(new QStackedWidget) {
    auto* told = new QWidget;
    auto* story = new QVBoxLayout(told);
    story->setContentsMargins(0, 0, 0, 0);
    story->setSpacing(0);
    auto* rows = scrolled(rows_);
    rows->setFixedHeight(reading_high);
    story->addWidget(drawing_, 1);
    story->addWidget(rows);
    left_->addWidget(told);
    left_->addWidget(scrolled(sheet_));
    auto* none = new QWidget;
    QVBoxLayout* side = lay_station(this, left_, none, 0);
    none->hide();
    build_search(side);
    auto* chips = new QHBoxLayout;
    chips->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("Entry"), tr("Write"), tr("Shelf"), tr("Upkeep"), tr("People"), tr("Sheet")})
        chips->addWidget(chip(parts_, id++, word, "reading " + word, 3));
    side->addLayout(chips);
    pages_ = {entry_, write_, shelf_, upkeep_, people_, sheet_page_};
    for (QWidget* page : pages_) side->addWidget(page);
    side->addSpacing(10);
    side->addWidget(papers_);
    side->addStretch();
    connect(parts_, &QButtonGroup::idClicked, this, &BookStation::show_part);
    connect(story_, &StoryView::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(write_, &WritePage::written, this, [this] { show_part(OfEntry); });
    connect(entry_, &EntryPage::prove_wanted, this, &BookStation::prove_wanted);
    connect(drawing_, &StoryDrawing::look_back_wanted, entry_, &EntryPage::look_back);
    show_part(OfEntry);
}

void BookStation::build_search(QVBoxLayout* side) {
    auto* axis = new QHBoxLayout;
    axis->setSpacing(4);
    axis->addWidget(chip(axis_, 1, tr("by distance"), "by distance", 8));
    axis->addWidget(chip(axis_, 0, tr("by date"), "by date", 8));
    auto* whole = named_button(tr("whole"), "whole story");
    whole->setStyleSheet("padding-left: 8px; padding-right: 8px;");
    axis->addWidget(whole);
    side->addLayout(axis);
    auto* search = new QHBoxLayout;
    words_->setPlaceholderText(tr("Look for words"));
    search->addWidget(words_, 1);
    search->addWidget(everything_);
    side->addLayout(search);
    auto* only = new QHBoxLayout;
    only->addWidget(part_);
    only->addWidget(person_);
    side->addLayout(only);
    connect(axis_, &QButtonGroup::idClicked, story_, [this](int id) { story_->set_by_distance(id == 1); });
    connect(whole, &QPushButton::clicked, drawing_, &StoryDrawing::show_all);
    connect(words_, &QLineEdit::textChanged, this, &BookStation::look_for);
    for (QComboBox* box : {part_, person_}) connect(box, &QComboBox::activated, this, &BookStation::look_for);
    connect(everything_, &QPushButton::clicked, this, [this] {
        words_->clear();
        story_->set_wanted({});
    });
}

void BookStation::look_for() {
    story_->set_wanted({words_->text().trimmed().toStdString(), part_->currentData().toString().toStdString(),
                        person_->currentData().toString().toStdString()});
}

void BookStation::show_part(int part) {
    shown_ = part;
    parts_->button(part)->setChecked(true);
    for (int i = 0; i < static_cast<int>(pages_.size()); ++i)
        pages_[static_cast<std::size_t>(i)]->setVisible(i == part);
    refresh();
}

void BookStation::refresh() {
    axis_->button(story_->by_distance() ? 1 : 0)->setChecked(true);
    const book::Wanted& wanted = story_->wanted();
    Entries parts{{tr("any part"), QString()}}, people{{tr("anybody"), QString()}};
    for (const book::Thing& t : book::things(document_.job())) parts.emplace_back(qs(say::words_of(t)), qs(t.id));
    for (const std::string& name : book::people_of(document_.job())) people.emplace_back(qs(name), qs(name));
    refill(part_, parts, qs(wanted.part));
    refill(person_, people, qs(wanted.person));
    everything_->setEnabled(!(wanted.words.empty() && wanted.part.empty() && wanted.person.empty()));
    if (shown_ == OfEntry) entry_->refresh();
    if (shown_ == Write) write_->refresh();
    if (shown_ == Shelf) shelf_->refresh();
    if (shown_ == Upkeep) upkeep_->refresh();
    if (shown_ == People) people_->refresh();
    left_->setCurrentIndex(shown_ == Sheet ? 1 : 0);
    if (shown_ == Sheet) {
        sheet_->refresh();
        sheet_page_->refresh();
        return;
    }
    tell_rows();
}

void BookStation::tell_rows() {
    using Mark = FigureRow::Mark;
    const job::Job& job = document_.job();
    const auto system = document_.units();
    std::vector<FigureRow> rows;
    const int stood = story_->stood_by();
    const auto today = document_.job_as_it_is();
    if (stood >= 0) {
        const job::Entry& e = job.book[static_cast<std::size_t>(stood)];
        if (then_.entry != stood || !then_.of || !(then_.of->book == today->book)) {
            then_ = {stood, today, {}, {}};
            try {
                then_.figures = std::make_shared<study::Assessment>(study::assess(e.car->vehicle, e.car->setup));
            } catch (const BadInput& wrong) {
                then_.wrong = qs(wrong.problem());
            }
        }
        rows.push_back({tr("As it stood"), {}, {}, Mark::Heading});
        rows.push_back({qs(e.car->setup.name), {}, {}});
        if (!then_.figures) rows.push_back({tr("It cannot be computed: %1").arg(then_.wrong), {}, {}, Mark::Caution});
        for (const Compared& c : compared) {
            if (!then_.figures) break;
            const auto told = [&](double si) {
                return qs(units::text(si,
                                      c.outcome == study::RollGradient ? units::Quantity::RollGradient
                                      : c.outcome == study::FrontShare ? units::Quantity::Share
                                                                       : units::Quantity::Length,
                                      system));
            };
            rows.push_back({tr(c.label), told(then_.figures->outcomes[c.outcome]),
                            document_.looking_back() ? QString()
                                                     : tr("now %1").arg(told(document_.fitted().outcomes[c.outcome]))});
        }
    }
    if (!story_->gaps().empty()) {
        rows.push_back({tr("Driven without, or so"), {}, {}, Mark::Heading});
        for (const book::Gap& g : story_->gaps())
            rows.push_back({qs(say::words_of(job, g, system)), {}, {}, Mark::Caution});
    }
    std::vector<book::Due> due = story_->due();
    std::ranges::stable_sort(due, std::greater{}, &book::Due::when);
    if (!due.empty()) rows.push_back({tr("Upkeep"), {}, {}, Mark::Heading});
    for (std::size_t i = 0; i < std::min<std::size_t>(due.size(), 3); ++i) {
        const job::Upkeep& u = job.upkeep[due[i].upkeep];
        const QString place = qs(say::place_words(u));
        rows.push_back({(place.isEmpty() ? QString() : place + ": ") + qs(u.what),
                        {},
                        qs(say::words_of(job, due[i], system)),
                        due[i].when == book::When::Due    ? Mark::Bad
                        : due[i].when == book::When::Soon ? Mark::Caution
                                                          : Mark::Plain});
    }
    for (const job::Entry& e : job.book)
        if (!e.more.look_again.empty() && e.more.marks.empty())
            if (const auto day = job::day_of(e.more.look_again); day && *day <= story_->now().day)
                rows.push_back({tr("How does it feel? %1").arg(qs(e.reason)),
                                {},
                                tr("to be asked since %1").arg(qs(e.more.look_again)),
                                Mark::Caution});
    rows_->show_rows(std::move(rows), width() < 1100 ? 2 : 3,
                     tr("What stood, what is due and what is to be asked again will stand here."), 0.55);
}

void BookStation::pose(int shot) {
    words_->clear();
    story_->set_wanted({});
    story_->set_by_distance(true);
    drawing_->show_all();
    if (const auto& spans = story_->spans(); !spans.empty()) story_->choose_entry(spans.back().entry);
    show_part(shot == 0 ? OfEntry : Sheet);
}

} // namespace dervish::app

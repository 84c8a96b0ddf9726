#include "app/prove/prove_station.h"

#include "app/prove/ask_page.h"
#include "app/prove/decide_page.h"
#include "app/prove/guess_page.h"
#include "app/prove/plan_drawing.h"
#include "app/prove/practice_card.h"
#include "app/prove/run_chart.h"
#include "app/prove/run_page.h"
#include "app/shell/theme.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/page_pieces.h"
#include "app/widgets/station_frame.h"
#include "app/words.h"
#include "core/edit/tests.h"

#include <QComboBox>
#include <QDate>
#include <QLabel>
#include <QStackedWidget>
#include <algorithm>

namespace dervish::app {
namespace {
constexpr int reading_high = 214; ///< px
}

ProveStation::ProveStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), sums_(new TestSums(document, this)), drawings_(new QStackedWidget),
      rows_(new FigureRows("test rows")), parts_(new QButtonGroup(this)), tests_(new QComboBox), removed_(new QLabel),
      caution_(new QLabel), body_(new QWidget), plan_(new AskPage(document, *sums_)),
      guess_(new GuessPage(document, *sums_)), run_(new RunPage(document, *sums_)),
      decide_(new DecidePage(document, *sums_)) {
    drawings_->addWidget(new PlanDrawing(document, *sums_));
    drawings_->addWidget(new RunChart(document, *sums_));
    drawings_->addWidget(new PeopleDrawing(document, *sums_));
    QVBoxLayout* side = lay_station(this, drawings_, scrolled(rows_), reading_high);
    tests_->setObjectName("tests");
    tests_->setAccessibleName(tr("Test looked at"));
    tests_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    tests_->setMinimumWidth(120);
    side->addWidget(tests_);
    auto* buttons = new QHBoxLayout;
    auto* plan = new QPushButton(tr("Plan a test"));
    plan->setObjectName("plan test");
    auto* practise = new QPushButton(tr("Practise …"));
    practise->setObjectName("practise");
    practise->setToolTip(tr("Questions about made-up cars, answered by the model; kept apart from the job"));
    buttons->addWidget(plan, 1);
    buttons->addWidget(practise);
    side->addLayout(buttons);
    auto* inner = new QVBoxLayout(body_);
    inner->setContentsMargins(0, 4, 0, 0);
    inner->setSpacing(6);
    auto* chips = new QHBoxLayout;
    chips->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("Plan"), tr("Guess"), tr("Runs"), tr("People"), tr("Decide")})
        chips->addWidget(chip(parts_, id++, word, "reading " + word, 5));
    inner->addLayout(chips);
    pages_ = {plan_, guess_, run_, new QLabel, decide_};
    auto* people = static_cast<QLabel*>(pages_[People]);
    people->setWordWrap(true);
    people->setText(
        tr("Marks are typed under Runs, each person's own, before the run's numbers are shown. Below the "
           "picture: how everybody's guesses did, who feels alike, and where the sum and the seat are at odds."));
    for (QWidget* page : pages_) inner->addWidget(page);
    side->addWidget(body_);
    removed_->setObjectName("test removed");
    removed_->setWordWrap(true);
    removed_->hide();
    side->addWidget(removed_);
    QWidget* care = caution(tr("Before anybody moves"), {});
    caution_ = care->findChild<QLabel*>("caution words");
    side->addWidget(care);
    side->addStretch();
    connect(plan, &QPushButton::clicked, this, &ProveStation::new_test);
    connect(practise, &QPushButton::clicked, this, [this] { (new PracticeCard(document_, window()))->show(); });
    connect(plan_, &AskPage::remove_asked, this, &ProveStation::remove_test);
    connect(plan_, &AskPage::test_planned, this, [this] {
        sums_->show_test(static_cast<int>(document_.job().tests.size()) - 1);
        show_part(Guess);
    });
    connect(tests_, &QComboBox::activated, this, [this](int i) {
        removed_->hide();
        sums_->show_test(i);
    });
    connect(parts_, &QButtonGroup::idClicked, this, &ProveStation::show_part);
    connect(sums_, &TestSums::changed, this, [this] {
        if (isVisible()) refresh();
    });
    connect(sums_, &TestSums::predicted, this, [this] {
        if (sums_->test() && sums_->test()->predicted()) show_part(Runs);
    });
    sums_->show_test(0);
    show_part(Runs);
}

void ProveStation::new_test() {
    const auto n = document_.job().tests.size() + 1;
    document_.edit(tr("test planned"), {}, [&](job::Job& job) {
        edit::plan_test(job, {tr("Test %1").arg(n).toStdString(),
                              QDate::currentDate().toString(Qt::ISODate).toStdString(),
                              {},
                              "diagonal_ramps",
                              job::Asks::SumOrCar,
                              {}});
    });
    removed_->hide();
    sums_->show_test(static_cast<int>(n) - 1);
    show_part(Plan);
    plan_->findChild<QWidget*>("test protocol")->setFocus();
}

void ProveStation::remove_test() {
    const job::PlannedTest* t = sums_->test();
    if (!t) return;
    removed_->setText(
        tr("“%1” is removed, with its guesses, predictions and runs. Ctrl+Z brings it all back.").arg(qs(t->name)));
    const int at = sums_->index();
    document_.edit(tr("test removed"), {}, [at](job::Job& job) { edit::remove_test(job, at); });
    sums_->show_test(std::max(0, at - 1));
    removed_->show();
    tests_->setFocus();
}

void ProveStation::show_part(int part) {
    part_ = part;
    parts_->button(part)->setChecked(true);
    for (int i = 0; i < static_cast<int>(pages_.size()); ++i)
        pages_[static_cast<std::size_t>(i)]->setVisible(i == part);
    refresh();
}

QString ProveStation::caution_words() const { return sums_->protocol() ? tr(sums_->protocol()->caution) : QString(); }

void ProveStation::refresh() {
    const auto& tests = document_.job().tests;
    Entries names;
    for (const job::PlannedTest& t : tests) names.emplace_back(qs(t.name), QVariant());
    refill(tests_, names);
    tests_->setCurrentIndex(sums_->index());
    tests_->setVisible(!tests.empty());
    body_->setVisible(sums_->protocol() != nullptr);
    decide_->setVisible(part_ == Decide && !sums_->hidden()); // a decision answers too
    caution_->setText(caution_words());
    caution_->parentWidget()->setVisible(!tests.empty());
    sums_->ask();
    const bool felt = part_ == People || (part_ == Runs && sums_->protocol() && sums_->protocol()->channels.empty());
    drawings_->setCurrentIndex(part_ == Plan || part_ == Guess ? 0 : felt ? 2 : 1);
    if (part_ == Plan || part_ == Guess) sums_->ask_for_others();
    if (part_ == Plan) plan_->refresh();
    if (part_ == Guess) guess_->refresh();
    if (part_ == Runs) run_->refresh();
    if (part_ == Decide) decide_->refresh();
    if (!sums_->test())
        return rows_->show_rows({}, 2,
                                tr("%1 kinds of test: on ramps, scales and the bench, in bends, between cones, over a "
                                   "kerb; and drives that are only felt.")
                                    .arg(proof::protocols().size()));
    if (sums_->hidden()) return rows_->show_rows({}, 2, tr("Hidden while another test's guess is open."));
    if (!sums_->protocol())
        return rows_->show_rows({}, 2,
                                tr("“%1” is a kind of test that this Dervish does not know; it is kept as it is.")
                                    .arg(qs(sums_->test()->protocol)));
    if (part_ == Plan || part_ == Guess)
        tell_plan();
    else if (felt)
        tell_people();
    else
        tell_runs();
}

void ProveStation::tell_runs() {
    const job::PlannedTest& t = *sums_->test();
    const units::System u = document_.units();
    std::vector<FigureRow> rows;
    using Mark = FigureRow::Mark;
    for (int s = 0; t.predicted() && s < static_cast<int>(t.states.size()); ++s) {
        rows.push_back({state_named(t, static_cast<std::size_t>(s)), {}, {}, Mark::Heading});
        for (std::size_t c = 0; c < sums_->protocol()->channels.size(); ++c) {
            const proof::Verdict v = proof::compare(t, s, c);
            const proof::Channel& channel = sums_->protocol()->channels[c];
            const job::Prediction& pr = t.states[static_cast<std::size_t>(s)].prediction;
            const bool bad = v.agreement == proof::Agreement::Disagrees;
            QString note;
            if (v.agreement != proof::Agreement::NothingRead)
                note = qs(say::state_told(t, s, c, u));
            else if (pr.tells[c] == job::PredictedNothing)
                note = tr("the sum has no such figure for this car");
            else
                note = tr("predicted %1%2 ± %3")
                           .arg(pr.tells[c] == job::PredictedMoreThan ? tr("more than ") : QString(),
                                qs(say::figure(pr.value[c], channel, u)),
                                qs(say::figure(band_90 * pr.sigma[c], channel, u, false)));
            rows.push_back({tr(channel.spec.label), {}, note, bad ? Mark::Bad : Mark::Plain});
        }
    }
    for (int s = 1; s < static_cast<int>(t.states.size()); ++s)
        if (const auto found = t.predicted() && !sums_->protocol()->channels.empty() ? proof::back_to_back(t, 0, 0, s)
                                                                                     : std::nullopt) {
            const say::Told told = say::told(*found, t, 0, 0, s, u);
            rows.push_back({tr("%1 less %2").arg(letter_of(s), letter_of(0)), {}, {}, Mark::Heading});
            rows.push_back({qs(told.headline), {}, qs(told.detail)});
            for (const proof::Unlike what : proof::unlike(t, 0, s))
                rows.push_back({qs(say::words_of(what)), {}, {}, Mark::Caution});
        }
    if (const auto told = say::unknown_told(t, u)) {
        rows.push_back({tr("What was not known"), {}, {}, Mark::Heading});
        rows.push_back({qs(told->headline), {}, qs(told->detail)});
    }
    if (const int wrong = sums_->asked().state; wrong >= 0) {
        rows.push_back({tr("What would explain %1").arg(qs(t.states[static_cast<std::size_t>(wrong)].name)),
                        {},
                        {},
                        Mark::Heading});
        for (const proof::Fault& f : sums_->asked().faults) {
            const say::Told told = say::told(f, t, u);
            rows.push_back({qs(told.headline), {}, tr("check: %1").arg(qs(told.detail)), Mark::Caution});
        }
        for (const proof::Culprit& c : proof::culprits(t, wrong, 0))
            rows.push_back({qs(say::words_of(c)), {}, tr("one input alone")});
        if (rows.back().mark == Mark::Heading)
            rows.push_back(
                {tr("Nothing that is looked for: several small errors together, or something not in the sum"), {}, {}});
    }
    if (t.decision.kind != job::Decision::Kind::None) {
        rows.push_back({tr("Decided: %1").arg(qs(say::words_of(t.decision.kind))), {}, {}, Mark::Heading});
        rows.push_back({qs(t.decision.words), {}, qs(t.decision.date)});
        for (const job::Voice& v : t.decision.voices)
            rows.push_back({qs(v.person) + (v.agrees ? tr(" agrees") : tr(" objects")), {}, qs(v.why)});
    }
    rows_->show_rows(std::move(rows), 2, tr("Predict the test to see what every reading should be."), 0.4);
}

void ProveStation::tell_plan() {
    const job::PlannedTest& t = *sums_->test();
    std::vector<FigureRow> rows;
    if (!t.guess_open())
        for (const TestSums::Other& o : sums_->others()) {
            FigureRow row{tr(o.protocol->name), qs(say::words_of(o.worth)), {}};
            const bool chance = t.asks == job::Asks::Which;
            row.scale = FigureRow::Scale{0,
                                         1,
                                         o.worth.score(),
                                         {},
                                         chance ? tr("never") : tr("nothing"),
                                         chance ? tr("always") : tr("all of it")};
            rows.push_back(row);
        }
    rows_->show_rows(std::move(rows), 3,
                     t.asks == job::Asks::Which && t.states.size() < 2
                         ? tr("With a second setup to run, every kind of test is asked how well it would tell the two "
                              "apart.")
                     : t.asks == job::Asks::Unknown && t.unknown.empty()
                         ? tr("Choose at the right what is not known: every kind of test is asked how much it would "
                              "tell of it.")
                     : t.guess_open()
                         ? tr("Every kind of test is being asked; one that tells more is offered at the right.")
                         : tr("Other tests are being asked how much they would tell."),
                     0.6);
}

void ProveStation::tell_people() {
    const job::PlannedTest& t = *sums_->test();
    std::vector<FigureRow> rows;
    using Mark = FigureRow::Mark;
    if (!t.guesses.empty()) rows.push_back({tr("Guesses"), {}, {}, Mark::Heading});
    for (const job::Guess& g : t.guesses) rows.push_back({qs(say::words_of(g, t, document_.units())), {}, {}});
    if (const auto eyes = proof::eyes(document_.job()); !eyes.empty()) {
        rows.push_back({tr("The eye, over all tests"), {}, {}, Mark::Heading});
        for (const proof::Eye& e : eyes) rows.push_back({qs(say::words_of(e)), {}, {}});
    }
    const auto people = proof::people_of(t);
    std::vector<FigureRow> alike;
    for (std::size_t a = 0; a < people.size(); ++a)
        for (std::size_t b = a + 1; b < people.size(); ++b)
            if (const auto r = proof::agreement_of(t, people[a], people[b]))
                alike.push_back(
                    {tr("%1 and %2 %3").arg(qs(people[a]), qs(people[b]), qs(say::agreement_words(*r))), {}, {}});
    if (!alike.empty()) {
        rows.push_back({tr("Who feels alike"), {}, {}, Mark::Heading});
        rows.insert(rows.end(), alike.begin(), alike.end());
    }
    bool felt = false;
    for (const proof::SaidAndFelt& line : sums_->asked().said) felt = felt || !line.people.empty();
    if (felt) {
        rows.push_back(
            {tr("The sum and the seat: %1 after %2").arg(letter_of(1), letter_of(0)), {}, {}, Mark::Heading});
        for (const proof::SaidAndFelt& line : sums_->asked().said)
            if (!line.people.empty()) rows.push_back({tr(line.scale.label), {}, qs(say::words_of(line))});
        for (const std::string& settle : say::settle_words(sums_->asked().said))
            rows.push_back({qs(settle), {}, {}, Mark::Caution});
    }
    rows_->show_rows(std::move(rows), 2, tr("Nobody has guessed or marked anything in this test yet."), 0.32);
}

void ProveStation::showEvent(QShowEvent*) { refresh(); }

void ProveStation::show_test(int index) {
    sums_->show_test(index);
    refresh();
}

void ProveStation::step(int by) { sums_->show_run(sums_->run() + by); }

void ProveStation::pose(int shot) {
    const auto& tests = document_.job().tests; // one that compares setups shows the most
    const auto compares = std::ranges::find_if(tests, [shot](const job::PlannedTest& t) {
        return t.states.size() > 1 && (shot < 2 || t.protocol == "slalom");
    });
    show_part(Runs);
    sums_->show_test(compares == tests.end() ? 0 : static_cast<int>(compares - tests.begin()));
    show_part(shot == 0 ? Runs : shot == 1 ? Plan : People);
    sums_->finish();
    if (shot == 1) sums_->finish_others();
    refresh();
}

} // namespace dervish::app

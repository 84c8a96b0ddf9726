#include "app/balance/balance_station.h"

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/follow.h"
#include "app/widgets/station_frame.h"
#include "core/job/complaints.h"
#include "core/job/launch.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QStackedWidget>
#include <QTimer>
#include <cmath>

namespace dervish::app {
namespace {
QString qs(const std::string& s) { return QString::fromStdString(s); }
using Mark = FigureRow::Mark;
constexpr int manoeuvre_page = 3;
QString fixed(double v, int decimals) { return qs(units::fixed(v, decimals)); }
QString signed_number(double v, int decimals, const QString& unit) {
    return (v > 0 ? "+" : "") + fixed(v, decimals) + unit;
}
QString in_g(double a) { return fixed(a / units::g, 2) + " g"; }

QWidget* scrolled(FigureRows* rows) {
    auto* out = new QScrollArea;
    out->setStyleSheet("background: " + theme().ground.name());
    out->setWidgetResizable(true);
    out->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    out->setFocusPolicy(Qt::StrongFocus);
    out->setWidget(rows);
    return out;
}
} // namespace

BalanceStation::BalanceStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), sums_(new BalanceSums(document, this)),
      drawing_(new BalanceDrawing(document)), curve_(new CurveReading(document, *sums_)),
      bars_(new BarsReading(document, *sums_)), manoeuvre_(new ManoeuvreReading(document, *sums_)),
      bump_(new FigureRows("one wheel")), conditions_(new FigureRows("conditions")),
      schools_(new FigureRows("schools")), means_(new FigureRows("other means")), fields_(new FieldPanel(document)),
      grounds_(new QButtonGroup(this)), pages_(new QButtonGroup(this)), groups_(new QButtonGroup(this)),
      turn_(new QSlider(Qt::Horizontal)), speed_(new QSlider(Qt::Horizontal)), push_(new QSlider(Qt::Horizontal)),
      speed_words_(new QLabel), evidence_(new QLabel), note_(new QLabel), kind_(new QComboBox), wanted_(new QComboBox),
      rule_(new QComboBox), heard_(new QWidget), player_(new QTimer(this)), later_(new QTimer(this)) {
    QVBoxLayout* side = lay_station(this, drawing_, build_pages(), 268);
    auto* over = new QHBoxLayout(drawing_); // controls that lie on the drawing
    over->setContentsMargins(18, 10, 0, 0);
    over->addWidget(build_controls(), 0, Qt::AlignTop);
    auto* groups = new QHBoxLayout;
    groups->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("Heard"), tr("Front"), tr("Rear"), tr("Whole")}) {
        auto* chip = new QPushButton(word);
        chip->setCheckable(true);
        chip->setObjectName("balance group " + QString::number(id));
        chip->setStyleSheet("padding-left: 6px; padding-right: 6px;");
        groups_->addButton(chip, id++);
        groups->addWidget(chip);
    }
    groups_->button(0)->setChecked(true);
    side->addLayout(groups);
    build_heard(side);
    side->addWidget(fields_);
    note_->setWordWrap(true);
    note_->setText(
        tr("Tyre figures are of their character and assumed until measured; the order in which the ends give "
           "up is surer than the number."));
    side->addWidget(note_);
    side->addWidget(source_legend());
    side->addWidget(caution(tr("Limits are for a closed course"), caution_words()));
    side->addStretch();
    connect(groups_, &QButtonGroup::idClicked, this, &BalanceStation::show_group);
    connect(drawing_, &BalanceDrawing::scrubbed, this, &BalanceStation::set_lateral);
    connect(player_, &QTimer::timeout, this, [this] {
        ++frame_;
        if (pages_->checkedId() == manoeuvre_page) {
            const balance::Run& run = manoeuvre_->run();
            const auto at = static_cast<std::size_t>(3 * frame_) % run.moments.size(); // 30 ms a frame: as it happens
            drawing_->show_moment(run.moments[at]);
            manoeuvre_->mark(run.moments[at].time);
        } else {
            set_lateral((0.45 + 0.35 * std::sin(frame_ * 0.05)) * units::g);
        }
    });
    later_->setSingleShot(true);
    later_->setInterval(60); // while someone types, the drawing and the tally come first
    connect(later_, &QTimer::timeout, this, [this] {
        if (isVisible()) say_pages();
    });
    connect(sums_, &BalanceSums::changed, later_, qOverload<>(&QTimer::start));
    new Follow(document_, this, [this] {
        refresh();
        for (QWidget* w :
             {static_cast<QWidget*>(curve_), static_cast<QWidget*>(bars_), static_cast<QWidget*>(manoeuvre_)})
            w->update();
        later_->start();
    });
    show_group(0);
    set_lateral(0.4 * units::g);
    set_drive();
}

QString BalanceStation::caution_words() const {
    return tr(
        "Limit handling is tried on a closed course, within the driver's skill, never on a public road. A roof load, a "
        "lift and a bar taken off each lower the rollover stability, together more so. Results are predictions "
        "with their stated uncertainty; the maker, local rules and a licensed professional decide what may be "
        "changed.");
}

QWidget* BalanceStation::build_controls() {
    auto* out = new QWidget;
    auto* line = new QHBoxLayout(out);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(5);
    int id = 0;
    for (const balance::Ground ground : balance::all_grounds) {
        auto* chip = new QPushButton(tr(balance::name_of(ground)));
        chip->setCheckable(true);
        chip->setObjectName(QString("ground ") + balance::name_of(ground));
        chip->setStyleSheet("padding-left: 9px; padding-right: 9px;");
        grounds_->addButton(chip, id++);
        line->addWidget(chip);
    }
    grounds_->button(0)->setChecked(true);
    line->addSpacing(10);
    line->addWidget(new QLabel(tr("bend")));
    turn_->setObjectName("bend scrub");
    turn_->setAccessibleName(tr("Lateral acceleration of the bend"));
    turn_->setRange(0, 120);
    turn_->setMaximumWidth(200);
    turn_->setMinimumWidth(60);
    line->addWidget(turn_, 2);
    line->addStretch(1);
    connect(grounds_, &QButtonGroup::idClicked, this, [this](int) {
        const balance::Ground ground = balance::all_grounds[grounds_->checkedId()];
        sums_->set_ground(ground);
        set_lateral(drawing_->lateral());
    });
    connect(turn_, &QSlider::valueChanged, this,
            [this](int hundredths) { set_lateral(hundredths / 100.0 * units::g); });
    return out;
}

QWidget* BalanceStation::build_pages() {
    auto* whole = new QWidget;
    whole->setObjectName("ground");
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* chips = new QHBoxLayout;
    chips->setContentsMargins(20, 4, 20, 0);
    chips->setSpacing(3);
    auto* stack = new QStackedWidget;
    const std::pair<QString, QWidget*> pages[] = {{tr("Limit"), curve_},
                                                  {tr("Bars"), bars_},
                                                  {tr("One wheel"), scrolled(bump_)},
                                                  {tr("Manoeuvre"), build_manoeuvre()},
                                                  {tr("Other means"), build_means()},
                                                  {tr("Conditions"), scrolled(conditions_)},
                                                  {tr("Schools"), scrolled(schools_)}};
    int id = 0;
    for (const auto& [word, page] : pages) {
        auto* chip = new QPushButton(word);
        chip->setCheckable(true);
        chip->setObjectName("reading " + word);
        chip->setStyleSheet("padding: 2px 8px;");
        pages_->addButton(chip, id++);
        chips->addWidget(chip);
        stack->addWidget(page);
    }
    pages_->button(0)->setChecked(true);
    chips->addStretch();
    column->addLayout(chips);
    column->addWidget(stack, 1);
    connect(pages_, &QButtonGroup::idClicked, this, [this, stack](int page) {
        stack->setCurrentIndex(page);
        if (page != manoeuvre_page) {
            drawing_->show_moment({});
            manoeuvre_->mark(-1);
        }
        say_pages();
    });
    return whole;
}

QWidget* BalanceStation::build_manoeuvre() {
    auto* whole = new QWidget;
    whole->setObjectName("ground");
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 4, 20, 0);
    for (const balance::Manoeuvre m : balance::all_manoeuvres) kind_->addItem(tr(balance::name_of(m)));
    kind_->setObjectName("manoeuvre");
    kind_->setAccessibleName(tr("Manoeuvre"));
    kind_->setCurrentIndex(static_cast<int>(balance::Manoeuvre::LaneChange));
    speed_->setObjectName("manoeuvre speed");
    speed_->setAccessibleName(tr("Speed"));
    speed_->setRange(20, 130);
    speed_->setValue(72);
    push_->setObjectName("manoeuvre push");
    push_->setAccessibleName(tr("How hard it is steered"));
    push_->setRange(5, 90);
    push_->setValue(40);
    for (QSlider* s : {speed_, push_}) s->setMaximumWidth(110);
    line->addWidget(kind_);
    line->addWidget(new QLabel(tr("speed")));
    line->addWidget(speed_, 1);
    line->addWidget(new QLabel(tr("steer")));
    line->addWidget(push_, 1);
    line->addWidget(speed_words_);
    line->addStretch();
    column->addLayout(line);
    column->addWidget(manoeuvre_, 1);
    connect(kind_, &QComboBox::activated, this, [this] { set_drive(); });
    connect(speed_, &QSlider::valueChanged, this, [this] { set_drive(); });
    connect(push_, &QSlider::valueChanged, this, [this] { set_drive(); });
    return whole;
}

QWidget* BalanceStation::build_means() {
    auto* whole = new QWidget;
    whole->setObjectName("ground");
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 4, 20, 0);
    wanted_->addItems(
        {tr("both ends at once"), tr("front first by 3 %"), tr("rear first by 2 %"), tr("as Fitted has it")});
    wanted_->setObjectName("wanted balance");
    wanted_->setAccessibleName(tr("Balance wanted"));
    rule_->addItems({tr("anything allowed"), tr("front bar only"), tr("rear bar only"), tr("bars only")});
    rule_->setObjectName("rule");
    rule_->setAccessibleName(tr("What the rules allow"));
    auto* work = new QPushButton(tr("Work out"));
    work->setObjectName("work out means");
    line->addWidget(new QLabel(tr("wanted")));
    line->addWidget(wanted_);
    line->addWidget(rule_);
    line->addWidget(work);
    line->addStretch();
    column->addLayout(line);
    column->addWidget(scrolled(means_), 1);
    means_->show_rows({}, 1,
                      tr("Choose what is wanted; each change that would do it is worked out with what it costs."));
    connect(work, &QPushButton::clicked, this, &BalanceStation::work_out_means);
    return whole;
}

void BalanceStation::build_heard(QVBoxLayout* side) {
    auto* column = new QVBoxLayout(heard_);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(3);
    auto* grid = new QGridLayout;
    grid->setSpacing(3);
    for (int i = 0; i < job::complaint_count; ++i) {
        const char* words = job::words_of(static_cast<job::Complaint>(i));
        auto* chip = new QPushButton(tr(words));
        chip->setCheckable(true);
        chip->setObjectName(QString("heard ") + words);
        chip->setStyleSheet("QPushButton { text-align: left; padding: 3px 6px; font-size: 12px; font-weight: normal; } "
                            "QPushButton:checked { font-weight: bold; }");
        chip->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(chip, &QPushButton::clicked, this, [this, words](bool on) {
            document_.edit(tr("what is heard"), {}, [&](job::Job& job) {
                std::erase(job.heard, words);
                if (on) job.heard.emplace_back(words);
            });
        });
        complaints_.push_back(chip);
        grid->addWidget(chip, i / 2, i % 2);
    }
    column->addLayout(grid);
    evidence_->setObjectName("evidence");
    evidence_->setWordWrap(true);
    evidence_->setTextFormat(Qt::RichText);
    evidence_->setStyleSheet("font-size: 12px;");
    column->addWidget(evidence_);
    side->addWidget(heard_);
}

void BalanceStation::show_group(int group) {
    group_ = group;
    groups_->button(group)->setChecked(true);
    refresh();
    later_->start();
}

void BalanceStation::set_lateral(double lateral) {
    const double kept = std::clamp(lateral, 0.0, 1.2 * units::g);
    const QSignalBlocker quiet(turn_);
    turn_->setValue(static_cast<int>(std::lround(100 * kept / units::g)));
    drawing_->show_moment({});
    drawing_->set_turn(kept, sums_->ground());
    curve_->set_turn(kept);
}

void BalanceStation::set_drive() {
    const double speed = speed_->value() / 3.6, push = push_->value() / 100.0 * units::g;
    manoeuvre_->set_drive({static_cast<balance::Manoeuvre>(kind_->currentIndex()), speed, push});
    const bool metric = document_.units() == units::System::Metric;
    speed_words_->setText(tr("%1, steered for %2 g")
                              .arg(metric ? tr("%1 km/h").arg(speed_->value())
                                          : tr("%1 mph").arg(std::lround(speed_->value() / 1.609344)),
                                   fixed(push / units::g, 2)));
}

void BalanceStation::refresh() {
    heard_->setVisible(group_ == 0);
    fields_->setVisible(group_ != 0);
    note_->setVisible(group_ != 0);
    for (int i = 0; i < job::complaint_count; ++i) {
        const auto& heard = document_.job().heard;
        complaints_[static_cast<std::size_t>(i)]->setChecked(
            std::find(heard.begin(), heard.end(), job::words_of(static_cast<job::Complaint>(i))) != heard.end());
    }
    if (group_ == 1) fields_->show_fields({"vehicle/front/grip"}, true, true);
    if (group_ == 2) fields_->show_fields({"vehicle/rear/grip"}, true, true);
    if (group_ == 3) fields_->show_fields({"vehicle/handling"}, true, true);
    set_drive();
}

void BalanceStation::say_pages() {
    sums_->ask();
    switch (pages_->checkedId()) {
    case 2:
        say_bump();
        break;
    case 5:
        say_conditions();
        break;
    case 6:
        say_schools();
        break;
    default:
        break;
    }
    if (group_ == 0) tell_evidence();
}

void BalanceStation::tell_evidence() {
    QString text;
    static const QString marks[] = {tr("supports"), tr("against"), tr("feels the same"), tr("measure")};
    for (int i = 0; i < job::complaint_count; ++i) {
        if (!complaints_[static_cast<std::size_t>(i)]->isChecked()) continue;
        const auto c = static_cast<job::Complaint>(i);
        text += "<p style='margin: 6px 0 2px 0'><b>" + tr(job::words_of(c)).toHtmlEscaped() + "</b></p>";
        for (const job::Evidence& e :
             job::evidence(c, document_.job().vehicle, document_.computed_setup(document_.look()), document_.looked(),
                           *sums_->now())) {
            const bool against = e.kind == job::Evidence::Kind::Against;
            text += QString("<p style='margin: 1px 0'><span style='color: %1'><b>%2</b></span> %3</p>")
                        .arg((against ? theme().caution : theme().soft).name(), marks[static_cast<int>(e.kind)],
                             qs(e.words).toHtmlEscaped());
        }
    }
    evidence_->setText(text.isEmpty() ? tr("Pick what is felt: the figures that speak to it follow, for and against.")
                                      : text);
}

void BalanceStation::say_bump() {
    const job::BalanceFigures &now = *sums_->now(), *before = sums_->fitted();
    std::vector<FigureRow> rows;
    const auto system = document_.units();
    for (std::size_t e = 0; e < 2; ++e) {
        const balance::Bump &b = now.bump[e], *was = before ? &before->bump[e] : nullptr;
        const auto fitted = [&](const QString& text) { return was ? tr("Fitted %1").arg(text) : QString(); };
        const auto rate = [&](double si) { return qs(units::text(si, units::Quantity::Rate, system)); };
        rows.push_back(
            {e == 0 ? tr("Front, one wheel over a bump") : tr("Rear, one wheel over a bump"), {}, {}, Mark::Heading});
        rows.push_back({tr("both wheels, each feels"), rate(b.wheel_rate),
                        fitted(was ? rate(was->wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("one wheel alone feels"), rate(b.one_wheel_rate),
                        fitted(was ? rate(was->one_wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("harshness, of the spring"), "× " + fixed(b.harshness, 2),
                        fitted(was ? "× " + fixed(was->harshness, 2) : QString()),
                        b.harshness > 1.8 ? Mark::Caution : Mark::Plain});
        rows.push_back({tr("ride, both wheels"), fixed(b.ride, 2) + " Hz",
                        fitted(was ? fixed(was->ride, 2) + " Hz" : QString()), Mark::Plain});
        rows.push_back({tr("ride, one wheel"), fixed(b.one_wheel, 2) + " Hz",
                        fitted(was ? fixed(was->one_wheel, 2) + " Hz" : QString()), Mark::Plain});
        rows.push_back({tr("rocks the body, a 10 mm step"), fixed(b.rock * 0.01, 2) + " rad/s²",
                        fitted(was ? fixed(was->rock * 0.01, 2) : QString()), Mark::Plain});
    }
    rows.push_back({tr("Pushed from outside"), {}, {}, Mark::Heading});
    const car::Car& car = document_.looked().car;
    rows.push_back({tr("80 kg on the sill"), fixed(job::lean_on_sill(car, 80) / units::deg, 1) + "°",
                    tr("lean, standing still"), Mark::Plain});
    rows.push_back(
        {tr("1 kN of side wind"),
         fixed(job::lean_in_wind(car, 1000, 1.3 * document_.job().vehicle.cg_height.value) / units::deg, 1) + "°",
         tr("lean, a third above the centre of mass"), Mark::Plain});
    if (const auto off = job::launch(document_.job().vehicle, document_.computed_setup(document_.look()))) {
        const std::size_t w = off->front ? 0 : 2;
        const auto force = [&](double f) { return qs(units::text(f, units::Quantity::Force, system, 0)); };
        rows.push_back({tr("Off the line at %1 g").arg(fixed(document_.job().vehicle.handling.launch.value, 2)),
                        {},
                        {},
                        Mark::Heading});
        rows.push_back({tr("driven wheels carry, left · right"), force(off->load[w]) + " · " + force(off->load[w + 1]),
                        tr("propshaft %1 N·m").arg(std::lround(std::abs(off->torque))), Mark::Plain});
        rows.push_back(
            {tr("evened by the right link"),
             off->longer ? qs(units::text(std::abs(*off->longer), units::Quantity::Length, system)) : tr("no length"),
             off->longer ? (*off->longer < 0 ? tr("shorter than the left") : tr("longer than the left")) : QString(),
             Mark::Plain});
    }
    bump_->show_rows(std::move(rows), 2, {}, 0.68);
}

void BalanceStation::say_conditions() {
    std::vector<FigureRow> rows;
    try {
        const job::Setup& setup = document_.computed_setup(document_.look());
        const job::Grid grid = job::condition_grid(document_.job().vehicle, setup);
        const QString loads[] = {tr("nothing listed aboard"), tr("loaded as now"), tr("everything aboard")};
        for (std::size_t load = 0; load < 3; ++load) {
            rows.push_back({loads[load], {}, {}, Mark::Heading});
            for (std::size_t i = 0; i < grid.rows.size(); ++i) {
                const balance::Limit& l = grid.rows[i][load];
                const bool tips = l.first == balance::Gives::Tips;
                rows.push_back({tr(balance::name_of(balance::all_grounds[i])), in_g(l.lateral),
                                tips ? tr("tips over")
                                     : tr("%1 first, %2 % left")
                                           .arg(l.first == balance::Gives::Front ? tr("front") : tr("rear"))
                                           .arg(std::lround(100 * l.left)),
                                tips ? Mark::Bad : Mark::Plain});
            }
        }
    } catch (const BadInput& e) {
        conditions_->show_rows({}, 1, qs(e.problem() + "; " + e.accepted()));
        return;
    }
    conditions_->show_rows(std::move(rows), width() > 1000 ? 3 : 2, {}, 0.45);
}

void BalanceStation::say_schools() {
    const job::BalanceFigures& f = *sums_->now();
    const car::Car& car = f.model.car;
    const car::Loaded l = car::loaded(car);
    const double front = l.share[0] + car.front.unsprung_mass, rear = l.share[1] + car.rear.unsprung_mass;
    const double share = document_.looked().outcomes[job::FrontShare], mass = front / (front + rear);
    std::vector<FigureRow> rows;
    rows.push_back({tr("Limit axle and margin"),
                    f.limit().first == balance::Gives::Front  ? tr("front, %1 %").arg(std::lround(100 * f.limit().left))
                    : f.limit().first == balance::Gives::Rear ? tr("rear, %1 %").arg(std::lround(100 * f.limit().left))
                                                              : tr("tips"),
                    tr("uses the tyre itself, steady; the default"),
                    f.limit().first == balance::Gives::Tips ? Mark::Bad : Mark::Plain});
    rows.push_back({tr("Understeer gradient at 0.3 g"), fixed(f.understeer.whole * units::g / units::deg, 2) + "°/g",
                    tr("how it steers on the road, far from the limit; 1 to 3 is usual"), Mark::Plain});
    rows.push_back({tr("Front share of transfer over front mass"), signed_number(100 * (share - mass), 1, " %"),
                    tr("a few points above 0 understeers; leaves the tyres out"), Mark::Plain});
    rows.push_back({tr("Ride frequency, rear over front"), "× " + fixed(f.bump[1].ride / f.bump[0].ride, 2),
                    tr("1.05 to 1.2 settles pitch after a bump; says nothing of grip"), Mark::Plain});
    const balance::Run step = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    rows.push_back(
        {tr("Turn-in: yaw at 90 % after"), step.yaw_90 ? fixed(*step.yaw_90, 2) + " s" : tr("–"),
         tr("response is another answer than steady balance: a stiffer front bar may cost one and help the other"),
         Mark::Plain});
    rows.push_back({tr("The understeer gradient is the sum of"), {}, {}, Mark::Heading});
    const auto& u = f.understeer;
    for (const auto& [what, value] : {std::pair{tr("masses over cornering stiffness"), u.masses_and_tyres},
                                      {tr("load transfer"), u.load_transfer},
                                      {tr("camber"), u.camber},
                                      {tr("roll steer"), u.roll_steer},
                                      {tr("side force on bushes"), u.side_steer},
                                      {tr("aligning moment on the steering"), u.aligning}})
        rows.push_back({what, signed_number(value * units::g / units::deg, 2, "°/g"), {}, Mark::Plain});
    schools_->show_rows(std::move(rows), 1, {}, 0.42);
}

void BalanceStation::work_out_means() {
    sums_->ask();
    const double wanted[] = {0, -0.03, 0.02, sums_->fitted() ? job::balance_of(sums_->fitted()->limit()) : 0};
    job::Rules rules;
    const int rule = rule_->currentIndex();
    if (rule > 0)
        rules = {.front_bar = rule != 2, .rear_bar = rule != 1, .springs = false, .tyres = false, .loads = false};
    std::vector<FigureRow> rows;
    for (const job::Means& m : job::same_balance(document_.job().vehicle, document_.looked().car, sums_->ground(),
                                                 wanted[wanted_->currentIndex()], rules)) {
        if (!m.found) {
            rows.push_back({qs(m.what), {}, qs(m.to), Mark::Plain});
            continue;
        }
        const units::Unit length = units::shown(units::Quantity::Length, document_.units());
        rows.push_back(
            {qs(m.what), qs(m.to),
             tr("roll %1/g · one wheel %2 · limit %3, wet %4 · first lift %5 · ramps %6")
                 .arg(signed_number(m.roll * units::g / units::deg, 1, "°"), signed_number(m.harshness, 2, ""),
                      signed_number(m.limit / units::g, 3, ""), signed_number(m.wet / units::g, 3, " g"),
                      signed_number(m.first_lift / units::g, 2, " g"),
                      signed_number(m.articulation / length.factor, document_.units() == units::System::Metric ? 0 : 1,
                                    " " + QString::fromUtf8(length.symbol.data()))),
             m.limit < -0.005 * units::g ? Mark::Caution : Mark::Plain});
    }
    means_->show_rows(std::move(rows), 1, tr("The rules leave nothing to change."), 0.27);
}

void BalanceStation::pose(int shot) {
    static constexpr int page[] = {0, 1, manoeuvre_page, 4};
    finish();
    pages_->button(page[shot])->click();
    show_group(0);
    set_lateral(0.5 * units::g);
    if (shot == 2) {
        const balance::Run& run = manoeuvre_->run();
        const balance::Moment& at =
            run.moments[static_cast<std::size_t>(0.31 * static_cast<double>(run.moments.size()))];
        drawing_->show_moment(at);
        manoeuvre_->mark(at.time);
    }
    if (shot == 3) work_out_means();
    say_pages();
}

void BalanceStation::finish() {
    sums_->finish_bands();
    say_pages();
}

bool BalanceStation::go_to(const QString& path) {
    if (!path.contains("/grip/") && !path.startsWith("vehicle/handling/")) return false;
    show_group(path.startsWith("vehicle/handling/") ? 3 : path.startsWith("vehicle/front/") ? 1 : 2);
    fields_->focus(path);
    return true;
}

void BalanceStation::step(int by) { set_lateral(drawing_->lateral() + 0.02 * by * units::g); }

void BalanceStation::play() {
    if (player_->isActive()) {
        player_->stop();
        return;
    }
    frame_ = 0;
    player_->start(30);
}

} // namespace dervish::app

#include "app/balance/balance_station.h"
#include "app/widgets/car_fields.h"
#include "core/edit/setups.h"
#include "core/say/balance_words.h"

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/balance/bump_reading.h"
#include "app/balance/conditions_page.h"
#include "app/balance/cures_page.h"
#include "app/balance/manoeuvre_page.h"
#include "app/balance/ride_reading.h"
#include "app/balance/use_reading.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/paged.h"
#include "app/widgets/station_frame.h"
#include "app/widgets/timing.h"
#include "core/say/complaints.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QSlider>
#include <QStackedWidget>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int ride_page = 2, bump_page = 3, manoeuvre_page = 4, cures_page = 5, conditions_page = 6, schools_page = 7,
              use_page = 8;
} // namespace

BalanceStation::BalanceStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), sums_(new BalanceSums(document, this)),
      drawing_(new BalanceDrawing(document)), curve_(new CurveReading(document, *sums_)),
      bars_(new BarsReading(document, *sums_)), ride_(new RideReading(document, *sums_)),
      use_(new UseReading(document, *sums_)), manoeuvre_(new ManoeuvrePage(document, *sums_)),
      conditions_(new ConditionsPage(document)), cures_(new CuresPage(document, *sums_)),
      bumps_(new BumpReading(document, *sums_)), bump_(new FigureRows("pushed")), schools_(new FigureRows("schools")),
      fields_(new FieldPanel(document)), ground_(new QComboBox), pages_(new QButtonGroup(this)),
      groups_(new QButtonGroup(this)), turn_(new QSlider(Qt::Horizontal)), evidence_(new QLabel), note_(new QLabel),
      mind_(new QLabel), heard_(new QWidget), player_(new Player(this, [this](int frame) { show_frame(frame); })),
      later_(new Later(this, [this] {
          if (isVisible()) say_pages();
      })) {
    QVBoxLayout* side = lay_station(this, drawing_, build_pages(), 268);
    auto* over = new QVBoxLayout(drawing_); // controls that lie on the drawing, and what takes its place
    over->setContentsMargins(0, 10, 0, 0);
    auto* controls = build_controls();
    controls->setContentsMargins(18, 0, 0, 0);
    over->addWidget(controls, 0, Qt::AlignTop);
    over->addWidget(cures_->drawing(), 1);
    cures_->drawing()->hide();
    auto* groups = new QHBoxLayout;
    groups->setSpacing(4);
    int id = 0;
    for (const auto& [word, hint] :
         {std::pair{tr("Felt"), tr("What the driver feels, and the figures for and against it")},
          {tr("Front"), tr("Tyres and wheels of the front")},
          {tr("Rear"), tr("Tyres and wheels of the rear")},
          {tr("Whole"), tr("What the car is for, its drive, brakes and inertia")},
          {tr("Ground"), tr("Grip and roughness of the ground chosen")}}) {
        groups->addWidget(chip(groups_, id, word, "balance group " + QString::number(id), 6));
        groups_->button(id)->setToolTip(hint);
        ++id;
    }
    groups_->button(0)->setChecked(true);
    side->addLayout(groups);
    build_heard(side);
    side->addWidget(fields_);
    mind_->setObjectName("keep in mind");
    mind_->setWordWrap(true);
    mind_->setTextFormat(Qt::RichText);
    mind_->setStyleSheet("font-size: 13px;");
    side->addWidget(mind_);
    note_->setWordWrap(true);
    note_->setText(
        tr("Tyre figures are of their character and assumed until measured; the order in which the ends give "
           "up is surer than the number."));
    side->addWidget(note_);
    side->addWidget(source_legend(document_));
    side->addWidget(caution(tr("Limits are for a closed course"), caution_words()));
    side->addStretch();
    connect(groups_, &QButtonGroup::idClicked, this, &BalanceStation::show_group);
    connect(drawing_, &BalanceDrawing::scrubbed, this, &BalanceStation::set_lateral);
    connect(sums_, &BalanceSums::changed, later_, qOverload<>(&QTimer::start));
    new Follow(document_, this, [this] {
        cures_->forget();
        refresh();
        for (QWidget* w : {static_cast<QWidget*>(curve_), static_cast<QWidget*>(bars_), static_cast<QWidget*>(ride_),
                           static_cast<QWidget*>(use_), static_cast<QWidget*>(&manoeuvre_->reading())})
            w->update();
        later_->start();
    });
    show_group(0);
    set_lateral(0.4 * units::g);
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
    line->addWidget(new QLabel(tr("ground")));
    for (const Ground ground : all_grounds) ground_->addItem(tr(name_of(ground)));
    ground_->setObjectName("ground");
    ground_->setAccessibleName(tr("Ground under the car"));
    ground_->setToolTip(tr("Its grip and how rough it is; planes are told as they are"));
    ground_->setMaxVisibleItems(static_cast<int>(std::size(all_grounds)));
    line->addWidget(ground_);
    line->addSpacing(10);
    auto* bend = new QWidget; // of no use to the cures
    auto* of_bend = new QHBoxLayout(bend);
    of_bend->setContentsMargins(0, 0, 0, 0);
    of_bend->addWidget(new QLabel(tr("bend")));
    turn_->setObjectName("bend scrub");
    turn_->setAccessibleName(tr("Lateral acceleration of the bend"));
    turn_->setRange(0, 120);
    turn_->setMaximumWidth(200);
    turn_->setMinimumWidth(60);
    of_bend->addWidget(turn_, 2);
    line->addWidget(bend, 2);
    line->addStretch(1);
    connect(ground_, &QComboBox::activated, this,
            [this](int chosen) { choose_ground(all_grounds[static_cast<std::size_t>(chosen)]); });
    connect(turn_, &QSlider::valueChanged, this,
            [this](int hundredths) { set_lateral(hundredths / 100.0 * units::g); });
    return out;
}

QWidget* BalanceStation::build_pages() {
    auto* bump = new QWidget;
    auto* of_bump = new QVBoxLayout(bump);
    of_bump->setContentsMargins(0, 0, 0, 0);
    of_bump->setSpacing(0);
    of_bump->addWidget(bumps_);
    of_bump->addWidget(bump_, 1);
    QWidget* out = paged(
        pages_, {{tr("Limit"), curve_, tr("Which end gives up first, and how it steers up to there")},
                 {tr("Bars"), bars_, tr("The limit with each bar from none to rigid, and how sure the best is")},
                 {tr("Ride"), ride_, tr("What the road does to loads, seats and heads")},
                 {tr("Bump"), scrolled(bump), tr("One wheel over a bump, and a kerb that rocks the car")},
                 {tr("Manoeuvre"), manoeuvre_, tr("Lane changes, S-bends, kerbs and gusts over time")},
                 {tr("Cures"), cures_, tr("Every change that would bring what is wanted, with what it costs")},
                 {tr("Conditions"), conditions_, tr("The limit on every ground, with nothing and everything aboard")},
                 {tr("Schools"), scrolled(schools_),
                  tr("What different schools of tuners judge a car by, and what each reads here")},
                 {tr("Use"), use_, tr("How much lean a use bears, and where this car stands")}});
    connect(pages_, &QButtonGroup::idClicked, this, [this](int page) {
        if (page != manoeuvre_page && page != bump_page) drawing_->show_moment({});
        if (page != manoeuvre_page) manoeuvre_->reading().mark(-1);
        if (page != bump_page) bumps_->mark(-1);
        cures_->drawing()->setVisible(page == cures_page);
        turn_->parentWidget()->setVisible(page != cures_page);
        say_pages();
    });
    connect(cures_, &CuresPage::field_wanted, this, &BalanceStation::field_wanted);
    return out;
}

void BalanceStation::build_heard(QVBoxLayout* side) {
    auto* column = new QVBoxLayout(heard_);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(3);
    auto* grid = new QGridLayout;
    grid->setSpacing(3);
    for (int i = 0; i < say::complaint_count; ++i) {
        const char* words = say::words_of(static_cast<say::Complaint>(i));
        auto* chip = new QPushButton(tr(words));
        chip->setCheckable(true);
        chip->setObjectName(QString("heard ") + words);
        chip->setStyleSheet("QPushButton { text-align: left; padding: 3px 4px; font-size: 13px; font-weight: normal; } "
                            "QPushButton:checked { font-weight: bold; }");
        chip->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        connect(chip, &QPushButton::clicked, this, [this, words](bool on) {
            document_.edit(tr("what is heard"), {}, [&](job::Job& job) { edit::set_heard(job, words, on); });
        });
        complaints_.push_back(chip);
        grid->addWidget(chip, i / 2, i % 2);
    }
    column->addLayout(grid);
    evidence_->setObjectName("evidence");
    evidence_->setWordWrap(true);
    evidence_->setTextFormat(Qt::RichText);
    evidence_->setStyleSheet("font-size: 13px;");
    connect(evidence_, &QLabel::linkActivated, this,
            [this](const QString& complaint) { show_cures(complaint.toInt()); });
    column->addWidget(evidence_);
    side->addWidget(heard_);
}

void BalanceStation::show_group(int group) {
    group_ = group;
    groups_->button(group)->setChecked(true);
    refresh();
    later_->start();
}

void BalanceStation::choose_ground(Ground ground) {
    if (ground != sums_->ground()) cures_->forget(); // they are of the other
    ground_->setCurrentIndex(static_cast<int>(index(ground)));
    sums_->set_ground(ground);
    set_lateral(drawing_->lateral());
    if (group_ == 4) refresh();
}

void BalanceStation::set_lateral(double lateral) {
    const double kept = std::clamp(lateral, 0.0, 1.2 * units::g);
    const QSignalBlocker quiet(turn_);
    turn_->setValue(static_cast<int>(std::lround(100 * kept / units::g)));
    drawing_->show_moment({});
    drawing_->set_turn(kept, sums_->ground());
    curve_->set_turn(kept);
}

void BalanceStation::refresh() {
    heard_->setVisible(group_ == 0);
    fields_->setVisible(group_ != 0);
    note_->setVisible(group_ != 0);
    for (int i = 0; i < say::complaint_count; ++i) {
        const auto& heard = document_.job().heard;
        complaints_[static_cast<std::size_t>(i)]->setChecked(
            std::find(heard.begin(), heard.end(), say::words_of(static_cast<say::Complaint>(i))) != heard.end());
    }
    if (group_ == 1) fields_->show_fields(grip_paths(document_, End::Front), true, true);
    if (group_ == 2) fields_->show_fields(grip_paths(document_, End::Rear), true, true);
    if (group_ == 3)
        fields_->show_fields({"vehicle/use", "vehicle/handling", document_.look_path() + "/bias_ratio"}, true, true);
    if (group_ == 4)
        fields_->show_fields({QString::fromStdString(job::path_of(sums_->ground())).chopped(1)}, true, true);
    manoeuvre_->set_drive();
}

void BalanceStation::say_pages() {
    sums_->ask();
    if (!sums_->now()) return; // their coming calls again
    switch (pages_->checkedId()) {
    case bump_page:
        say_bump();
        break;
    case conditions_page:
        conditions_->say();
        break;
    case schools_page:
        say_schools();
        break;
    default:
        break;
    }
    if (group_ == 0) tell_evidence();
    QString mind;
    for (const std::string& words : say::validity(*sums_->now(), document_.units()))
        mind += QString("<p style='margin: 2px 0'>%1</p>").arg(QString::fromStdString(words).toHtmlEscaped());
    mind_->setText(mind.isEmpty() ? QString() : tr("<b>Keep in mind</b>") + mind);
    mind_->setVisible(!mind.isEmpty());
}

void BalanceStation::show_cures(int complaint) {
    const auto c = static_cast<say::Complaint>(complaint);
    const auto aim = say::aim_of(c);
    if (!aim) return;
    choose_ground(say::ground_of(c, sums_->ground()));
    pages_->button(cures_page)->click();
    const auto now = cures_->reading(*aim, document_.look());
    cures_->want(*aim, now ? say::wanted_for(c, *now) : study::scale_of(*aim).usual); // it tells that there is none
}

void BalanceStation::show_ride() {
    pages_->button(ride_page)->click();
    choose_ground(study::bands_of(document_.computed().vehicle().use).ground);
}

void BalanceStation::pose(int shot) {
    static constexpr int page[] = {0, manoeuvre_page, cures_page, ride_page, conditions_page, use_page};
    finish();
    pages_->button(page[shot])->click();
    show_group(0);
    set_lateral(0.5 * units::g);
    if (shot == 1) {
        const balance::Run& run = *manoeuvre_->reading().run();
        const balance::Moment& at =
            run.moments[static_cast<std::size_t>(0.31 * static_cast<double>(run.moments.size()))];
        drawing_->show_moment(at);
        manoeuvre_->reading().mark(at.time);
    }
    if (shot == 2) {
        cures_->want_fitted();
        cures_->work_out();
        cures_->finish();
    }
    choose_ground(shot == 3 ? Ground::WetPatched : Ground::Dry);
    sums_->finish();
    if (shot == 3) ride_->finish();
    if (shot == 1) manoeuvre_->reading().finish();
    if (shot == 4) conditions_->finish();
    say_pages();
}

void BalanceStation::finish() {
    bars_->finish();
    if (ride_->isVisible()) ride_->finish();
    use_->finish();
    manoeuvre_->reading().finish();
    cures_->finish();
    say_pages();
}

bool BalanceStation::go_to(const QString& path) {
    const QString at = as_edited(document_, path);
    for (const Ground ground : all_grounds)
        if (at.startsWith(QString::fromStdString(job::path_of(ground)))) {
            choose_ground(ground);
            show_group(4);
            fields_->focus(at);
            return true;
        }
    const bool handling = at.startsWith("vehicle/handling/") || at.startsWith("vehicle/use/") ||
                          at == document_.look_path() + "/bias_ratio";
    const bool grip = at.contains("/tyres/") || at.contains("/stand/") || at.contains("/wheels/") ||
                      at.contains("/dampers/bump_") || at.contains("/dampers/click") ||
                      at.contains("/dampers/rebound_");
    if (!handling && (!grip || at.endsWith("/tyres/rate"))) return false;
    show_group(handling ? 3 : at.contains("/front/") ? 1 : 2);
    fields_->focus(at);
    return true;
}

void BalanceStation::step(int by) { set_lateral(drawing_->lateral() + 0.02 * by * units::g); }

void BalanceStation::play() { player_->toggle(); }

void BalanceStation::show_frame(int frame) {
    const int page = pages_->checkedId();
    const std::vector<balance::Moment>* moments = nullptr;
    double slower = 1;
    if (page == manoeuvre_page && manoeuvre_->reading().run()) moments = &manoeuvre_->reading().run()->moments;
    if (page == bump_page && sums_->rocking(false)) {
        moments = &sums_->rocking(false)->moments;
        slower = 4; // it is over in a blink
    }
    if (page != manoeuvre_page && page != bump_page)
        return set_lateral((0.45 + 0.35 * std::sin(frame * 0.05)) * units::g);
    if (!moments || moments->size() < 2) return;
    const double apart = 1e3 * slower * ((*moments)[1].time - (*moments)[0].time); // ms: as it happens
    const auto at = static_cast<std::size_t>(std::lround(Player::frame_time / apart * frame)) % moments->size();
    const balance::Moment& shown = (*moments)[at];
    if (page == bump_page) {
        drawing_->show_moment(shown, tr("over a kerb, four times slower than it is"));
        bumps_->mark(shown.time);
    } else {
        drawing_->show_moment(shown);
        manoeuvre_->reading().mark(shown.time);
    }
}

} // namespace dervish::app

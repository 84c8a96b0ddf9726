#include "app/flex/flex_station.h"
#include "app/widgets/car_fields.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/say/flex_words.h"
#include "core/study/flex.h"

#include "app/flex/flex_drawing.h"
#include "app/flex/flex_readings.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/follow.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/paged.h"
#include "app/widgets/station_frame.h"
#include "app/widgets/timing.h"
#include "app/words.h"
#include "core/job/fields.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double per_reach = 1e-3; ///< of the scrub's steps, m or rad

const job::FieldSpec second_spec{"second", "Rear's height over front's", units::Quantity::Number, job::Tool::Tape, 0,
                                 3},
    angle_spec{"ramp angle",          "Ramp's angle", units::Quantity::Angle,
               job::Tool::AngleGauge, 5 * units::deg, 45 * units::deg},
    stone_spec{"stone", "Stone under the uphill wheel", units::Quantity::Length, job::Tool::Tape, 0, 0.5},
    longer_spec{"dampers longer", "Longer dampers, by", units::Quantity::Length, job::Tool::Tape, 0, 0.3},
    light_spec{"light at", "A wheel is light at", units::Quantity::Force, job::Tool::Scale, 0, 5000};

QLabel* small_words(const QString& name) {
    auto* out = new QLabel;
    out->setObjectName(name);
    out->setWordWrap(true);
    out->setStyleSheet("font-size: 13px;");
    return out;
}
} // namespace

FlexStation::FlexStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), sums_(new FlexSums(document, this)),
      drawing_(new FlexDrawing(document, *sums_)), states_(new StatesReading(document, *sums_, false)),
      heights_(new StatesReading(document, *sums_, true)), readings_(new QButtonGroup(this)),
      fields_(new FieldPanel(document)), kinds_(new QButtonGroup(this)), groups_(new QButtonGroup(this)),
      wheel_(new QComboBox), reach_(new QSlider(Qt::Horizontal)), weight_(new QSlider(Qt::Horizontal)),
      words_(new QLabel), why_(small_words("why")), best_(small_words("best state")), road_(small_words("road cost")),
      taken_(small_words("taken")), wheels_(small_words("wheels")), put_(new QPushButton(tr("Put it on Trial"))),
      other_(new QPushButton(tr("Another car …"))), leave_(new QPushButton(tr("Leave it out"))),
      second_(new NumberBox(document, second_spec, 1, 0.1)),
      angle_(new NumberBox(document, angle_spec, 20 * units::deg, units::deg)),
      stone_(new NumberBox(document, stone_spec, 0, 10 * units::mm)),
      light_(new NumberBox(document, light_spec, 0, 50)),
      longer_(new NumberBox(document, longer_spec, study::longer_dampers, 10 * units::mm)), why_page_(new QWidget),
      ground_page_(new QWidget), springs_page_(new QWidget), aboard_page_(new QWidget),
      player_(new Player(this,
                         [this](int frame) {
                             if (const study::FlexResult* shown = sums_->shown())
                                 set_reach(shown->ascent.height * (0.5 - 0.5 * std::cos(0.05 * frame)));
                         })),
      later_(new Later(this, [this] {
          if (isVisible()) sums_->ask();
      })) {
    QVBoxLayout* side =
        lay_station(this, drawing_,
                    paged(readings_, {{tr("Each at its lift"), scrolled(states_),
                                       tr("Where a wheel of each goes light: travels, hatched at a stop")},
                                      {tr("All at one height"), scrolled(heights_),
                                       tr("What each wheel carries on the ground as it is drawn, "
                                          "in kN or lbf, the gap under one that hangs, and the lean")}}),
                    282);
    auto* over = new QHBoxLayout(drawing_); // controls that lie on the drawing
    over->setContentsMargins(18, 10, 16, 0);
    over->addWidget(build_controls(), 1, Qt::AlignTop);
    auto* groups = new QHBoxLayout;
    groups->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("Why"), tr("Ground"), tr("Front"), tr("Rear"), tr("Aboard")}) {
        groups->addWidget(chip(groups_, id, word, "flex group " + QString::number(id), 5));
        ++id;
    }
    side->addLayout(groups);
    build_why(side);
    build_ground(side);
    side->addWidget(fields_);
    build_springs(side);
    build_aboard(side);
    side->addWidget(caution(tr("A bar taken off is for the track"), caution_words()));
    side->addStretch();
    connect(groups_, &QButtonGroup::idClicked, this, &FlexStation::show_group);
    connect(sums_, &FlexSums::changed, this, &FlexStation::told);
    new Follow(document_, this, [this] {
        show_units();
        show_group(group_);
        later_->start();
        drawing_->update();
    });
    show_group(why_group);
    show_units();
    take_protocol();
}

QWidget* FlexStation::build_controls() {
    auto* out = new QWidget;
    auto* rows = new QVBoxLayout(out);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    auto* line = new QHBoxLayout;
    line->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("diagonal"), tr("ramp"), tr("fork"), tr("holes"), tr("slope")})
        line->addWidget(chip(kinds_, id++, word, "ground " + word, 8));
    kinds_->button(0)->setChecked(true);
    for (const char* name : car::wheel_names) wheel_->addItem(tr(name));
    wheel_->setObjectName("flex wheel");
    wheel_->setAccessibleName(tr("The wheel that rises, sinks, or is uphill"));
    wheel_->setToolTip(tr("The wheel that rises or sinks (a diagonal's one end of two), or is uphill on a slope"));
    line->addWidget(wheel_);
    line->addStretch(1);
    rows->addLayout(line);
    auto* scrub = new QHBoxLayout;
    scrub->setSpacing(8);
    reach_->setObjectName("reach");
    reach_->setAccessibleName(tr("How high the ground is"));
    reach_->setFixedWidth(170);
    auto* lift = new QPushButton(tr("to the lift"));
    lift->setObjectName("to the lift");
    lift->setStyleSheet("padding: 2px 8px;");
    words_->setObjectName("reach words");
    words_->setStyleSheet("font-size: 14px; font-weight: bold;");
    words_->setWordWrap(true);
    scrub->addWidget(reach_);
    scrub->addWidget(lift);
    scrub->addWidget(words_, 1);
    rows->addLayout(scrub);
    connect(kinds_, &QButtonGroup::idClicked, this, [this] { take_protocol(); });
    connect(wheel_, &QComboBox::activated, this, [this] { take_protocol(); });
    connect(reach_, &QSlider::valueChanged, this, [this](int steps) {
        at_lift_ = false;
        set_reach(steps * per_reach);
    });
    connect(lift, &QPushButton::clicked, this, [this] { to_lift(); });
    return out;
}

void FlexStation::build_why(QVBoxLayout* side) {
    auto* column = new QVBoxLayout(why_page_);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(4);
    why_->setTextFormat(Qt::RichText);
    column->addWidget(why_);
    auto* head = new QLabel(tr("<b>Track against road</b>"));
    column->addWidget(head);
    column->addWidget(new TradeReading(document_, *sums_));
    auto* line = new QHBoxLayout;
    weight_->setObjectName("track weight");
    weight_->setAccessibleName(tr("Weight of the track against the road"));
    weight_->setRange(0, 100);
    weight_->setValue(50);
    line->addWidget(new QLabel(tr("road")));
    line->addWidget(weight_, 1);
    line->addWidget(new QLabel(tr("track")));
    column->addLayout(line);
    column->addWidget(best_);
    column->addWidget(road_);
    auto* buttons = new QHBoxLayout;
    put_->setObjectName("state on trial");
    other_->setObjectName("another car");
    other_->setToolTip(tr("Another job file, read only: its Fitted goes on the same ground."));
    buttons->addWidget(put_);
    buttons->addWidget(other_);
    column->addLayout(buttons);
    leave_->setObjectName("leave state out");
    leave_->setToolTip(tr("Takes the chosen car out of the comparison (Delete); nothing is lost by it"));
    column->addWidget(leave_);
    column->addWidget(taken_);
    side->addWidget(why_page_);
    connect(weight_, &QSlider::valueChanged, this, [this] { tell_why(); });
    connect(put_, &QPushButton::clicked, this, &FlexStation::put_on_trial);
    connect(other_, &QPushButton::clicked, this, &FlexStation::ask_other);
    connect(leave_, &QPushButton::clicked, this,
            [this] { sums_->chosen() == 0 ? sums_->take_all() : sums_->leave_out(); });
}

void FlexStation::build_ground(QVBoxLayout* side) {
    auto* form = new QFormLayout(ground_page_);
    form->setContentsMargins(0, 4, 0, 0);
    for (NumberBox* box : {second_, angle_, stone_, light_}) {
        box->setFixedWidth(80);
        form->addRow(box->spec().label, box);
        connect(box, &NumberBox::value_changed, this, [this] { take_protocol(); });
    }
    longer_->setFixedWidth(80);
    form->addRow(longer_->spec().label, longer_);
    connect(longer_, &NumberBox::value_changed, this, [this] { sums_->set_longer(longer_->value()); });
    wheels_->setTextFormat(Qt::RichText);
    side->addWidget(ground_page_);
    side->addWidget(wheels_); // in the form it would get the height of one line
}

void FlexStation::build_springs(QVBoxLayout* side) {
    auto* line = new QHBoxLayout(springs_page_);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(tr("Spring by points")));
    for (const bool more : {true, false}) {
        auto* button = new QPushButton(more ? tr("Add") : tr("Remove"));
        button->setObjectName(more ? "add spring point" : "remove spring point");
        button->setToolTip(
            tr("Air and rubber springs: force beyond the one at ride height, by travel, in place of a rate."));
        connect(button, &QPushButton::clicked, this, [this, more] { change_springs(more); });
        line->addWidget(button);
    }
    side->addWidget(springs_page_);
}

void FlexStation::show_units() {
    auto* form = static_cast<QFormLayout*>(ground_page_->layout());
    for (NumberBox* box : {second_, angle_, stone_, light_, longer_})
        static_cast<QLabel*>(form->labelForField(box))
            ->setText(with_unit(tr(box->spec().label), box->spec().quantity, document_.units()));
}

bool FlexStation::slope() const { return sums_->protocol().kind == flex::Kind::Slope; }

void FlexStation::take_protocol() {
    flex::Protocol p;
    static constexpr flex::Kind kinds[] = {flex::Kind::Diagonal, flex::Kind::Ramp, flex::Kind::Lift, flex::Kind::Holes,
                                           flex::Kind::Slope};
    p.kind = kinds[kinds_->checkedId()];
    p.wheel = wheel_->currentIndex();
    p.raised = p.wheel == car::front_left || p.wheel == car::rear_right ? Diagonal::FrontLeftRearRight
                                                                        : Diagonal::FrontRightRearLeft;
    p.second = second_->value();
    p.angle = angle_->value();
    p.obstacle = stone_->value();
    p.threshold_load = light_->value();
    p.highest = p.kind == flex::Kind::Slope ? 60 * units::deg : 0.8;
    at_lift_ = true;
    sums_->set_protocol(p);
}

void FlexStation::set_reach(double reach) {
    const QSignalBlocker quiet(reach_);
    reach_->setRange(0, static_cast<int>(std::lround(sums_->protocol().highest / per_reach)));
    reach_->setValue(static_cast<int>(std::lround(reach / per_reach)));
    drawing_->set_reach(reach);
    heights_->set_reach(reach);
    const QString high = slope() ? qs(units::fixed(reach / units::deg, 1)) + "°"
                                 : qs(units::text(reach, units::Quantity::Length, document_.units(), 0));
    QString words = high;
    if (const study::FlexResult* shown = sums_->shown()) {
        const flex::Ascent& a = shown->ascent;
        const QString wheel = tr(car::wheel_names[static_cast<std::size_t>(a.light_wheel)]);
        if (!a.lifted)
            words += tr(": no wheel goes light up to %1")
                         .arg(slope() ? tr("60°")
                                      : qs(units::text(a.height, units::Quantity::Length, document_.units(), 0)));
        else if (std::abs(reach - a.height) < per_reach)
            words += band_words() + tr(": %1 goes light").arg(wheel);
        if (sums_->protocol().kind == flex::Kind::Ramp)
            words +=
                tr(" · index %1").arg(std::lround(flex::ramp_index(sums_->protocol(), shown->car.wheelbase, reach)));
    }
    words_->setText(words);
    tell_wheels();
}

void FlexStation::to_lift() {
    at_lift_ = true;
    if (const study::FlexResult* shown = sums_->shown()) set_reach(shown->ascent.height);
}

void FlexStation::told() {
    if (at_lift_ && sums_->shown())
        to_lift();
    else
        set_reach(drawing_->reach());
    tell_why();
}

void FlexStation::show_group(int group) {
    group_ = group;
    groups_->button(group)->setChecked(true);
    why_page_->setVisible(group == why_group);
    ground_page_->setVisible(group == ground_group);
    wheels_->setVisible(group == ground_group);
    tell_wheels();
    const bool axle = group == front_group || group == rear_group;
    fields_->setVisible(axle || group == aboard_group);
    aboard_page_->setVisible(group == aboard_group);
    if (group == aboard_group) show_aboard();
    springs_page_->setVisible(axle);
    if (!axle) return;
    const End end = group == front_group ? End::Front : End::Rear;
    const QString own = QString("vehicle/") + name_of(end) + "/";
    const auto on = [&](const char* key) { return on_axle(document_, end, key); };
    fields_->show_fields({own + "bump_gap", on("dampers/droop_gap"), own + "bump_k1", own + "bump_k3",
                          on("dampers/droop_k"), on("springs/rate"), own + "travel", on("springs/captive"),
                          on("springs/points")},
                         true, true);
}

void FlexStation::build_aboard(QVBoxLayout* side) {
    auto* column = new QVBoxLayout(aboard_page_);
    column->setContentsMargins(0, 4, 0, 0);
    auto* person = new QPushButton(tr("A person more"));
    person->setObjectName("person more");
    person->setToolTip(tr("A load of a person's weight, aboard; move it by its numbers here, or by hand on Car"));
    column->addWidget(person);
    side->insertWidget(side->indexOf(fields_), aboard_page_);
    connect(person, &QPushButton::clicked, this, [this] {
        document_.edit(tr("a person more"), {}, [this](job::Job& job) {
            edit::add_person(job, document_.look() == Look::Trial ? job.trial : job.fitted);
        });
    });
}

void FlexStation::show_aboard() {
    const auto& loads = document_.job().vehicle.loads;
    auto* column = static_cast<QVBoxLayout*>(aboard_page_->layout());
    while (aboard_.size() > loads.size()) {
        delete aboard_.back();
        aboard_.pop_back();
    }
    while (aboard_.size() < loads.size()) {
        const std::size_t load = aboard_.size();
        aboard_.push_back(new QCheckBox);
        aboard_.back()->setObjectName(QString("aboard %1").arg(load));
        column->insertWidget(static_cast<int>(load), aboard_.back());
        aboard_.back()->show();
        connect(aboard_.back(), &QCheckBox::clicked, this, [this, load](bool on) {
            document_.edit(tr("load aboard"), {}, [&](job::Job& job) {
                edit::set_aboard(document_.look() == Look::Trial ? job.trial : job.fitted, job.vehicle.loads.at(load),
                                 on);
            });
        });
    }
    QStringList paths;
    for (std::size_t i = 0; i < loads.size(); ++i) {
        aboard_[i]->setText(qs(loads[i].name) + ", " +
                            qs(units::text(loads[i].mass.value, units::Quantity::Mass, document_.units(), 0)));
        aboard_[i]->setChecked(job::is_aboard(loads[i], document_.looked_setup()));
        paths = {QString("vehicle/loads/%1").arg(i)}; // the last one is moved here
    }
    fields_->show_fields(paths, true);
}

void FlexStation::set_other(const QString& path) { sums_->set_other(path.toStdString()); }

void FlexStation::ask_other() {
    if (sums_->has_other()) {
        set_other({});
        other_->setText(tr("Another car …"));
        return;
    }
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Another car on the same ground"), {}, tr("Dervish jobs (*.dervish)"));
    if (path.isEmpty()) return;
    try {
        set_other(path);
        other_->setText(tr("Without it"));
    } catch (const BadInput& e) {
        taken_->setText(qs(e.what()));
    }
}

void FlexStation::put_on_trial() {
    const study::FlexResult* shown = sums_->shown();
    if (!shown) return;
    const study::FlexState state = shown->of;
    const QString name = qs(say::name_of(state, document_.units()));
    const auto without_straps = [](job::Vehicle v) {
        v.front.travel.strap.value = v.rear.travel.strap.value = 0;
        return v;
    };
    if (!(without_straps(state.vehicle) == without_straps(document_.job().vehicle))) {
        taken_->setText(tr("That is another car's."));
        return;
    }
    const bool strapped = !(state.vehicle == document_.job().vehicle);
    document_.set_look(Look::Trial);
    document_.edit(tr("%1 on Trial").arg(name), {}, [&](job::Job& job) {
        const bool kept = state.what.kind == study::FlexState::What::Kind::Kept;
        edit::put_setup(job, state.setup, kept ? state.setup.name : job.trial.name); // no two setups of one name
    });
    taken_->setText(tr("On Trial: %1. Ctrl+Z takes it back.").arg(name) +
                    (strapped ? tr(" Its straps are left off: let the car's out too.") : QString()));
}

void FlexStation::change_springs(bool more) {
    const End end = group_ == front_group ? End::Front : End::Rear;
    document_.edit(more ? tr("a spring point added") : tr("a spring point removed"), {}, [&](job::Job& job) {
        job::Setup& setup = on_axle(document_, end, "springs").startsWith("trial/") ? job.trial : job.fitted;
        job::AxleSetup& on = setup[end];
        more ? edit::add_spring_point(on, job.vehicle[end]) : edit::remove_spring_point(on);
    });
}

void FlexStation::pose(int) {
    sums_->finish();
    show_group(why_group);
    to_lift();
}

bool FlexStation::go_to(const QString& path) {
    const QString at = as_edited(document_, path);
    if (!at.contains("/travel/") && !at.startsWith("vehicle/front/bump_") && !at.startsWith("vehicle/rear/bump_") &&
        !at.contains("/dampers/droop_") && !at.contains("/springs/"))
        return false;
    show_group(at.contains("/front/") ? front_group : rear_group);
    fields_->focus(at);
    return true;
}

void FlexStation::step(int by) {
    at_lift_ = false;
    set_reach(std::clamp(drawing_->reach() + by * (slope() ? units::deg : 0.01), 0.0, sums_->protocol().highest));
}

void FlexStation::play() {
    at_lift_ = false;
    player_->toggle();
}

} // namespace dervish::app

#include "app/links/links_station.h"
#include "app/widgets/car_fields.h"
#include "core/edit/edits.h"
#include "core/say/setup_steps.h"
#include "core/study/assess.h"

#include "app/links/link_pages.h"
#include "app/links/links_drawing.h"
#include "app/links/steps_page.h"
#include "app/links/sweep_reading.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/measure_next.h"
#include "app/widgets/paged.h"
#include "app/widgets/station_frame.h"
#include "app/widgets/timing.h"
#include "core/job/fields.h"
#include "store/file.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QSlider>
#include <QStackedWidget>
#include <cmath>

namespace dervish::app {
namespace {
constexpr int steps = 1000; // of the travel's slider, from full droop to full bump
constexpr int link_group = 0, path_group = 1, near_group = 2;
} // namespace

LinksStation::LinksStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), drawing_(new LinksDrawing(document)), sweep_(new SweepReading(document)),
      plan_(new PlanPage(document)), limits_(new LimitsPage(document)), rest_(new RestPage(document)),
      steps_(new StepsPage(document)), fields_(new FieldPanel(document)), next_(new MeasureNext(document)),
      axles_(new QButtonGroup(this)), sides_(new QButtonGroup(this)), groups_(new QButtonGroup(this)),
      pages_(new QButtonGroup(this)), mode_(new QComboBox), parts_(new QComboBox), travel_(new QSlider(Qt::Horizontal)),
      steer_(new QSlider(Qt::Horizontal)), steer_box_(new QWidget), list_tools_(new QWidget), part_tools_(new QWidget),
      part_name_(new QLineEdit), note_(new QLabel),
      player_(new Player(this, [this](int frame) { show_frame(frame); })) {
    QVBoxLayout* side = lay_station(this, drawing_, build_pages(), 262);
    auto* over = new QHBoxLayout(drawing_); // controls that lie on the drawing
    over->setContentsMargins(18, 10, 0, 0);
    over->addWidget(build_controls(), 0, Qt::AlignTop);
    auto* groups = new QHBoxLayout;
    groups->setSpacing(4);
    groups->addWidget(chip(groups_, link_group, tr("Link"), "links group"));
    groups->addWidget(chip(groups_, path_group, tr("Pick-up"), "path group"));
    groups->addWidget(chip(groups_, near_group, tr("Keep clear"), "near group"));
    groups_->button(link_group)->setChecked(true);
    side->addLayout(groups);
    side->addWidget(build_list_tools());
    side->addWidget(fields_);
    note_->setWordWrap(true);
    side->addWidget(note_);
    side->addWidget(source_legend(document_));
    side->addWidget(next_);
    side->addWidget(caution(tr("Links over centre"), caution_words()));
    side->addStretch();
    connect(groups_, &QButtonGroup::idClicked, this, &LinksStation::show_group);
    connect(drawing_, &LinksDrawing::scrubbed, this, &LinksStation::put_own);
    new Follow(document_, this, [this] { refresh(); });
    show_end(End::Front, 0);
}

QString LinksStation::caution_words() const {
    return tr(
        "A link or joint that goes over centre or binds can jam the steering or tear a hose. Never under a car on a "
        "jack: stands on firm ground, wheels chocked. A twisted bar holds energy: loosen both links with both "
        "wheels at equal height, and tie up or take off what hangs loose. Torque and permitted changes are the "
        "vehicle maker's and local law's; welded or shortened links are work for a qualified welder.");
}

QWidget* LinksStation::build_controls() {
    auto* out = new QWidget;
    auto* line = new QHBoxLayout(out);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(5);
    line->addWidget(chip(axles_, 0, tr("Front"), "front links", 9));
    line->addWidget(chip(axles_, 1, tr("Rear"), "rear links", 9));
    line->addSpacing(6);
    line->addWidget(chip(sides_, 0, tr("Left"), "left link", 9));
    line->addWidget(chip(sides_, 1, tr("Right"), "right link", 9));
    line->addSpacing(6);
    mode_->setObjectName("travel mode");
    mode_->setAccessibleName(tr("How the other wheel moves"));
    mode_->addItems({tr("opposite"), tr("together"), tr("one wheel")}); // linkage::Mode
    line->addWidget(mode_);
    travel_->setObjectName("travel scrub");
    travel_->setAccessibleName(tr("Travel of this wheel, droop to bump"));
    travel_->setRange(0, steps);
    travel_->setMinimumWidth(50);
    travel_->setMaximumWidth(130);
    line->addWidget(travel_, 2);
    auto* steering = new QHBoxLayout(steer_box_);
    steering->setContentsMargins(0, 0, 0, 0);
    steering->addWidget(new QLabel(tr("steer")));
    steer_->setObjectName("steer scrub");
    steer_->setAccessibleName(tr("Steering, right to left lock"));
    steer_->setRange(-100, 100);
    steer_->setMinimumWidth(36);
    steer_->setMaximumWidth(70);
    steer_box_->setMaximumWidth(120);
    steering->addWidget(steer_);
    line->addWidget(steer_box_, 1);
    line->addStretch(1);
    connect(axles_, &QButtonGroup::idClicked, this,
            [this](int id) { show_end(static_cast<End>(id), drawing_->side()); });
    connect(sides_, &QButtonGroup::idClicked, this,
            [this](int id) { show_end(drawing_->end(), static_cast<std::size_t>(id)); });
    connect(mode_, &QComboBox::activated, this, [this] { scrub(); });
    connect(travel_, &QSlider::valueChanged, this, [this](int at) {
        const auto& ends = drawing_->sides();
        if (!ends) return;
        const linkage::Room& room = (*ends)[drawing_->side()].room;
        own_ = -room.droop + (room.bump + room.droop) * at / steps;
        scrub();
    });
    connect(steer_, &QSlider::valueChanged, this, [this] { scrub(); });
    return out;
}

QWidget* LinksStation::build_pages() {
    auto* out = new QPushButton(tr("CSV …"));
    out->setObjectName("export sweep");
    out->setStyleSheet("padding: 2px 10px;");
    out->setToolTip(tr("The curves through travel as a table"));
    connect(out, &QPushButton::clicked, this, [this] {
        const QString file =
            QFileDialog::getSaveFileName(this, tr("Write the curves"), "links.csv", tr("Tables (*.csv)"));
        if (file.isEmpty()) return;
        try {
            write_sweep(file);
        } catch (const BadInput& e) {
            QMessageBox::warning(this, tr("Not written"), QString::fromStdString(e.what()));
        }
    });
    return paged(
        pages_,
        {{tr("Through travel"), sweep_, tr("Angle, arm, motion ratio and force from droop to bump")},
         {tr("Length"), plan_, tr("How long the links must be at this ride height, and with how many turns")},
         {tr("Limits"), limits_, tr("How near joints, threads and the car's other parts come, at any travel and lock")},
         {tr("At rest"), rest_, tr("What twists the bar while the car stands, and what takes it out")},
         {tr("Set-up"), steps_, tr("Setting up links step by step, with what was read at each")}},
        out);
}

void LinksStation::write_sweep(const QString& file) {
    const QByteArray text = QByteArray::fromStdString(sweep_->csv());
    if (text.isEmpty()) throw BadInput(file.toStdString(), "there is no link here", "fit a bar with links first");
    document_.write_made(file, text.toStdString());
}

QWidget* LinksStation::build_list_tools() {
    auto* column = new QVBoxLayout(list_tools_);
    column->setContentsMargins(0, 4, 0, 0);
    auto* line = new QHBoxLayout;
    parts_->setObjectName("parts");
    parts_->setAccessibleName(tr("Parts to keep clear of"));
    auto *add = new QPushButton(tr("Add")), *remove = new QPushButton(tr("Remove"));
    add->setObjectName("add to list");
    remove->setObjectName("remove from list");
    line->addWidget(parts_, 1);
    line->addWidget(add);
    line->addWidget(remove);
    column->addLayout(line);
    auto* naming = new QHBoxLayout(part_tools_);
    naming->setContentsMargins(0, 0, 0, 0);
    naming->addWidget(new QLabel(tr("Name")));
    part_name_->setObjectName("part name");
    naming->addWidget(part_name_, 1);
    column->addWidget(part_tools_);
    connect(add, &QPushButton::clicked, this, [this] { edit_list(+1); });
    connect(remove, &QPushButton::clicked, this, [this] { edit_list(-1); });
    connect(parts_, &QComboBox::activated, this, [this] { refresh(); });
    connect(part_name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        const int at = parts_->currentIndex();
        if (at < 0) return;
        document_.edit(tr("name of a part"), "part name " + axle_path() + QString::number(at), [&](job::Job& job) {
            job::set_words(job, QString("%1/linkage/obstacles/%2/name").arg(axle_path()).arg(at).toStdString(),
                           text.toStdString());
        });
    });
    return list_tools_;
}

void LinksStation::edit_list(int by) {
    const End end = drawing_->end();
    const bool near = group_ == near_group;
    const int at = parts_->currentIndex();
    document_.edit(near ? tr("part to keep clear of") : tr("place of the pick-up's path"), {}, [&](job::Job& job) {
        if (by > 0)
            near ? edit::add_obstacle(job, end) : edit::add_path_point(job, end);
        else if (!near)
            edit::remove_path_point(job, end);
        else if (at >= 0)
            edit::remove_obstacle(job, end, static_cast<std::size_t>(at));
    });
    if (near && by > 0) {
        parts_->setCurrentIndex(parts_->count() - 1);
        refresh();
    }
}

QString LinksStation::axle_path() const { return QString("vehicle/") + name_of(drawing_->end()); }

void LinksStation::show_end(End end, std::size_t side) {
    axles_->button(static_cast<int>(index(end)))->setChecked(true);
    sides_->button(static_cast<int>(side))->setChecked(true);
    next_->ask(study::at(study::FrontLinkMargin, end),
               end == End::Front ? tr("front link margin") : tr("rear link margin"));
    drawing_->show_end(end, side);
    sweep_->show_end(end, side);
    plan_->show_end(end, side);
    limits_->show_end(end, side);
    rest_->show_end(end, side);
    steps_->show_end(end);
    refresh();
    put_own(own_);
}

void LinksStation::show_group(int group) {
    group_ = group;
    groups_->button(group)->setChecked(true);
    refresh();
}

void LinksStation::put_own(double own) {
    const auto& ends = drawing_->sides();
    if (!ends) return;
    const linkage::Room& room = (*ends)[drawing_->side()].room;
    own_ = std::clamp(own, -room.droop, room.bump);
    {
        const QSignalBlocker quiet(travel_); // its steps are coarser than what was asked for
        const double whole = room.bump + room.droop;
        travel_->setValue(whole > 0 ? static_cast<int>(std::lround(steps * (own_ + room.droop) / whole)) : 0);
    }
    scrub();
}

void LinksStation::scrub() {
    const auto mode = static_cast<linkage::Mode>(mode_->currentIndex());
    const auto& ends = drawing_->sides();
    const double lock = ends ? (*ends)[drawing_->side()].room.lock : 0;
    drawing_->set_travel(mode, own_, lock * steer_->value() / 100);
    sweep_->set_travel(mode, own_);
}

void LinksStation::refresh() {
    const bool trial = document_.may_change();
    const End end = drawing_->end();
    const job::AxleData& axle = document_.job().vehicle[end];
    const job::Setup& setup = document_.looked_setup();
    const job::AxleSetup& a = setup[end];
    const QString own = document_.look_path() + (QString("/") + name_of(end) + "/");
    steer_box_->setVisible(axle.linkage.lock.value > 0);
    const bool near = group_ == near_group, points = group_ == path_group &&
                                                     axle.linkage.path == job::PathKind::Points &&
                                                     axle.kind == AxleKind::Independent;
    list_tools_->setVisible(near || points);
    parts_->setVisible(near);
    part_tools_->setVisible(near && !axle.linkage.obstacles.empty());
    if (near) {
        QStringList names;
        for (const job::ObstacleData& o : axle.linkage.obstacles) names << QString::fromStdString(o.name);
        if (names != parts_->property("names").toStringList() || parts_->count() != names.size()) {
            const int at = parts_->currentIndex();
            parts_->clear();
            parts_->addItems(names);
            parts_->setProperty("names", names);
            parts_->setCurrentIndex(std::clamp(at, names.isEmpty() ? -1 : 0, static_cast<int>(names.size()) - 1));
        }
        const int at = parts_->currentIndex();
        if (at >= 0 && part_name_->text() != names[at]) part_name_->setText(names[at]);
        fields_->show_fields(at < 0 ? QStringList{}
                                    : QStringList{QString("%1/linkage/obstacles/%2").arg(axle_path()).arg(at)},
                             true, true);
    } else if (group_ == path_group) {
        QStringList paths;
        const QString linkage = axle_path() + "/linkage/";
        if (axle.kind == AxleKind::Independent) {
            paths << linkage + "path" << linkage + "arm_front" << linkage + "arm_rear" << linkage + "ball_joint"
                  << linkage + "points";
            if (axle.linkage.path == job::PathKind::Straight)
                paths << axle_path() + "/motion_ratio" << linkage + "steers";
        } else {
            paths << axle_path() + "/spring_base";
        }
        paths << linkage + "lock" << linkage + "kingpin_behind" << linkage + "kingpin_out"
              << on_axle(document_, end, "dampers/droop_gap") << axle_path() + "/bump_gap";
        fields_->show_fields(paths, true, true);
    } else {
        fields_->show_fields(a.held == job::Held::Links ? QStringList{own + "pickups", own + "links", own + "mounts/on",
                                                                      own + "mounts/height", own + "bar/bent"}
                                                        : QStringList{},
                             trial, true);
    }
    note_->setVisible((!trial && group_ == link_group) || group_ != link_group);
    note_->setText(
        group_ == link_group
            ? tr("This is what is on the car. It changes by “Fit it”, or by “Found so” when the car is found "
                 "different. Press T for Trial.")
        : near ? tr("Places are of the left side at ride height, from the bar's axis at the car's middle; the "
                    "right side is taken alike. A wheel is told by the middle of its inner face.")
               : tr("Places are of the left side at ride height, from the bar's axis at the car's middle."));
    if (axles_->checkedId() >= 0) scrub();
}

void LinksStation::show_tightest() {
    const job::Setup& setup = document_.computed().setup();
    const auto least = study::smallest_link_margin(setup, document_.looked());
    if (!least) return;
    const linkage::Travel& t = least->first.at;
    const double sum = t.own + t.other, differ = t.own - t.other;
    mode_->setCurrentIndex(static_cast<int>(std::abs(differ) < 1e-6                  ? linkage::Mode::Bump
                                            : std::abs(sum) < 0.5 * std::abs(differ) ? linkage::Mode::Roll
                                                                                     : linkage::Mode::OneWheel));
    show_end(least->second, least->first.end);
    put_own(t.own);
}

void LinksStation::pose(int shot) {
    static constexpr int page[] = {0, 1, 4};
    show_end(End::Front, 0);
    pages_->button(page[shot])->click();
    mode_->setCurrentIndex(static_cast<int>(shot == 1 ? linkage::Mode::Bump : linkage::Mode::Roll));
    put_own(shot == 1 ? 0.0 : -0.055);
    if (shot == 2) steps_->show_step(say::Step::LeftRight);
    show_group(link_group);
}

bool LinksStation::go_to(const QString& path) {
    const bool linkage = path.startsWith("vehicle/") && path.contains("/linkage/");
    const bool links = path.startsWith("trial/") && (path.contains("/plan/") || path.contains("/links/") ||
                                                     path.contains("/pickups/") || path.contains("/stand/lift"));
    if (!linkage && !links) return false;
    const End end = path.contains("/front/") ? End::Front : End::Rear;
    if (links && !document_.describes()) document_.set_look(Look::Trial);
    show_end(end, drawing_->side());
    if (path.contains("/plan/") || path.contains("/stand/lift"))
        pages_->button(path.endsWith("/preload") ? 3 : 1)->click();
    show_group(links ? link_group : path.contains("/obstacles/") ? near_group : path_group);
    if (path.contains("/obstacles/")) {
        parts_->setCurrentIndex(path.section('/', 4, 4).toInt());
        refresh();
    }
    for (const FieldPanel* panel : findChildren<FieldPanel*>()) panel->focus(path);
    return true;
}

void LinksStation::step(int by) { travel_->setValue(travel_->value() + 25 * by); }

void LinksStation::play() { player_->toggle(); }

void LinksStation::show_frame(int frame) {
    const auto& ends = drawing_->sides();
    if (!ends) return;
    const linkage::Room& room = (*ends)[drawing_->side()].room;
    const double swing = std::sin(frame * 0.06);
    put_own(swing > 0 ? swing * room.bump : swing * room.droop);
}

void LinksStation::measure_next() { next_->setFocus(); }

} // namespace dervish::app

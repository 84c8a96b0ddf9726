#include "app/bar/bar_station.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/study/assess.h"

#include "app/bar/bar_drawing.h"
#include "app/bar/bar_readings.h"
#include "app/bar/choices_reading.h"
#include "app/bar/rig_reading.h"
#include "app/bar/travel_reading.h"
#include "app/widgets/car_fields.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/list_table.h"
#include "app/widgets/measure_next.h"
#include "app/widgets/paged.h"
#include "app/widgets/station_frame.h"
#include "app/widgets/timing.h"
#include "core/job/fields.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QSlider>
#include <QStackedWidget>
#include <cmath>

namespace dervish::app {

BarStation::BarStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), drawing_(new BarDrawing(document)), readings_(new BarReadings(document)),
      travel_(new TravelReading(document)), choices_(new ChoicesReading(document)), rig_(new RigReading(document)),
      fields_(new FieldPanel(document)), next_(new MeasureNext(document)), axles_(new QButtonGroup(this)),
      groups_(new QButtonGroup(this)), fitted_(new QCheckBox(tr("Bar fitted"))),
      connected_(new QCheckBox(tr("Links connected"))), name_(new QLineEdit), eye_buttons_(new QWidget),
      form_tools_(new QWidget), arms_tools_(new QWidget), held_tools_(new QWidget), end_tools_(new QWidget),
      csv_tools_(new QWidget), bush_tools_(new QWidget), joint_tools_(new QWidget), form_(new QComboBox),
      arms_(new QComboBox), held_(new QComboBox), end_(new QComboBox), bush_kind_(new QComboBox),
      joint_kind_(new QComboBox), list_(new ListTable(document)), note_(new QLabel), roll_(new QSlider(Qt::Horizontal)),
      player_(new Player(this, [this](int frame) { roll_->setValue(static_cast<int>(50 * std::sin(frame * 0.08))); })) {
    QVBoxLayout* side = lay_station(this, drawing_, build_reading(), 250);

    auto* over = new QHBoxLayout(drawing_); // controls that lie on the drawing
    over->setContentsMargins(18, 10, 0, 0);
    auto* controls = new QWidget;
    auto* line = new QHBoxLayout(controls);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    line->addWidget(chip(axles_, 0, tr("Front"), "front bar"));
    line->addWidget(chip(axles_, 1, tr("Rear"), "rear bar"));
    axles_->button(0)->setChecked(true);
    line->addSpacing(14);
    line->addWidget(new QLabel(tr("roll")));
    roll_->setObjectName("roll scrub");
    roll_->setAccessibleName(tr("Body roll of the drawing"));
    roll_->setRange(-60, 60);
    roll_->setValue(30);
    roll_->setFixedWidth(180);
    line->addWidget(roll_);
    over->addWidget(controls, 0, Qt::AlignTop | Qt::AlignLeft);

    auto* checks = new QHBoxLayout;
    checks->addWidget(fitted_);
    checks->addWidget(connected_);
    checks->addStretch();
    side->addLayout(checks);
    auto* naming = new QHBoxLayout;
    name_->setObjectName("bar name");
    name_->setAccessibleName(tr("Name of the bar"));
    auto* shelf = new QPushButton(tr("Shelf"));
    shelf->setObjectName("shelf");
    naming->addWidget(name_, 1);
    naming->addWidget(shelf);
    side->addLayout(naming);
    auto* chips = new QHBoxLayout;
    chips->setSpacing(4);
    int index = 0;
    for (const QString& word : {tr("Bar"), tr("Mounts"), tr("Links")})
        chips->addWidget(chip(groups_, index++, word, word));
    groups_->button(0)->setChecked(true);
    side->addLayout(chips);
    side->addWidget(build_forms());
    side->addWidget(fields_);
    side->addWidget(list_);
    auto* eyes = new QHBoxLayout(eye_buttons_);
    eyes->setContentsMargins(0, 2, 0, 2);
    auto *more = new QPushButton(tr("Add an eye")), *fewer = new QPushButton(tr("Remove the inner eye"));
    more->setObjectName("add eye");
    fewer->setObjectName("take eye off");
    eyes->addWidget(more);
    eyes->addWidget(fewer);
    side->addWidget(eye_buttons_);
    note_->setWordWrap(true);
    side->addWidget(note_);
    side->addWidget(source_legend(document_));
    side->addWidget(next_);
    side->addWidget(caution(tr("Before the links come off"),
                            tr("Chock and stand the car on firm ground, wheels at equal height. A twisted bar holds "
                               "energy: loosen both sides before either is "
                               "moved. A bar taken off lowers the rollover stability. Torque figures are the vehicle "
                               "maker's; welding is a qualified welder's.")));
    side->addStretch();

    connect(axles_, &QButtonGroup::idClicked, this, [this](int id) { show_axle(static_cast<End>(id)); });
    connect(groups_, &QButtonGroup::idClicked, this, [this](int id) {
        show_group(id == 0 ? "bar" : id == 1 ? "mounts" : "links");
    });
    connect(drawing_, &BarDrawing::part_picked, this, &BarStation::show_group);
    connect(roll_, &QSlider::valueChanged, this,
            [this](int tenths) { drawing_->set_roll(tenths / 10.0 * units::deg); });
    for (const auto& [box, flag, what] :
         {std::tuple{fitted_, "/fitted", tr("bar fitted")}, {connected_, "/connected", tr("links connected")}}) {
        box->setObjectName(what);
        connect(box, &QCheckBox::clicked, this, [this, flag = flag, what = what](bool on) {
            document_.edit(what, {},
                           [&](job::Job& job) { edit::choose(job, (prefix().chopped(1) + flag).toStdString(), on); });
        });
    }
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        document_.edit(tr("name of the bar"), "bar name", [&](job::Job& job) {
            job::set_words(job, (prefix() + "bar/name").toStdString(), text.toStdString());
        });
    });
    connect(shelf, &QPushButton::clicked, this, &BarStation::show_shelf);
    connect(more, &QPushButton::clicked, this, [this] { change_eye_count(+1); });
    connect(fewer, &QPushButton::clicked, this, [this] { change_eye_count(-1); });
    new Follow(document_, this, [this] { refresh(); });
    show_axle(End::Front);
}

QWidget* BarStation::build_reading() {
    auto* out = new QPushButton(tr("Export …"));
    out->setObjectName("export");
    out->setStyleSheet("padding: 2px 10px;");
    out->setToolTip(tr("The drawing as SVG, PNG or PDF, the curves as CSV"));
    connect(out, &QPushButton::clicked, this, [this] {
        const QString file = QFileDialog::getSaveFileName(this, tr("Export drawing or curves"), "bar.svg",
                                                          tr("Drawing (*.svg *.png *.pdf);;Curves (*.csv)"));
        if (file.isEmpty()) return;
        try {
            export_to(file);
        } catch (const BadInput& e) {
            QMessageBox::warning(this, tr("Not exported"), QString::fromStdString(e.what()));
        }
    });
    pages_ = new QButtonGroup(this);
    return paged(pages_,
                 {{tr("Stiffness"), readings_,
                   tr("Where the bar gives way, each eye's rate, and what the hand formulas leave out")},
                  {tr("Travel"), travel_, tr("Force and rate of the bar over its whole travel, as it bends and turns")},
                  {tr("Choices"), choices_, tr("Other tubes and sizes of the same rate, and what a shop has")},
                  {tr("Rig check"), rig_, tr("The bar on a bench: type what was read and see whether the sum holds")}},
                 out);
}

const job::Assembly& BarStation::assembly() const {
    const job::Setup& s = document_.looked_setup();
    return s[drawing_->end()];
}

QStringList BarStation::field_paths() const {
    if (group_ == "links" && assembly().held == job::Held::Links) return {prefix() + "pickups", prefix() + "links"};
    if (group_ != "bar") return {prefix() + (assembly().held == job::Held::Clamped ? "trailing_arms" : group_)};
    QStringList out; // all but the list's, which have their table
    for (const job::FieldSeen& f : job::fields(document_.job(), (prefix() + "bar").toStdString())) {
        const QString path = QString::fromStdString(f.path);
        if (!path.contains("/walk/") && !path.contains("/points/")) out << path;
    }
    return out;
}

QString BarStation::prefix() const { return document_.look_path() + "/" + name_of(drawing_->end()) + "/"; }

void BarStation::show_axle(End end) {
    axles_->button(static_cast<int>(index(end)))->setChecked(true);
    drawing_->show_axle(end);
    readings_->show_axle(end);
    travel_->show_axle(end);
    choices_->show_axle(end);
    rig_->show_axle(end);
    next_->ask(study::at(study::FrontRate, end), end == End::Front ? tr("front bar's rate") : tr("rear bar's rate"));
    refresh();
}

void BarStation::show_group(const QString& group) {
    group_ = group;
    groups_->button(group == "bar" ? 0 : group == "mounts" ? 1 : 2)->setChecked(true);
    refresh();
}

void BarStation::refresh() {
    const bool open = document_.may_change();
    const job::Assembly& a = document_.looked_setup()[drawing_->end()];
    fitted_->setChecked(a.fitted);
    connected_->setChecked(a.connected);
    fitted_->setEnabled(open);
    connected_->setEnabled(open);
    const QString name = QString::fromStdString(a.bar.name);
    if (name_->text() != name) name_->setText(name);
    name_->setReadOnly(!open);
    const bool sizes = a.bar.form == job::Form::Sizes, in_bar = group_ == "bar", clamped = a.held == job::Held::Clamped;
    eye_buttons_->setVisible(in_bar && open && sizes && !clamped);
    form_tools_->setVisible(in_bar);
    arms_tools_->setVisible(in_bar && sizes && !clamped);
    held_tools_->setVisible(group_ == "mounts");
    end_tools_->setVisible(group_ == "links" && !clamped && a.pickups.rule == job::PickupRule::UnderEyes);
    bush_tools_->setVisible(group_ == "mounts" && !clamped);
    joint_tools_->setVisible(group_ == "links" && !clamped);
    bush_->setVisible(group_ == "mounts" && !clamped && open);
    csv_tools_->setVisible(in_bar && open);
    form_->setCurrentIndex(static_cast<int>(a.bar.form));
    arms_->setCurrentIndex(static_cast<int>(a.bar.arms));
    held_->setCurrentIndex(static_cast<int>(a.held));
    end_->setCurrentIndex(static_cast<int>(a.pickups.end));
    bush_kind_->setCurrentIndex(static_cast<int>(a.mounts.kind));
    joint_kind_->setCurrentIndex(static_cast<int>(a.links.joints));
    for (QComboBox* box : {form_, arms_, held_, end_, bush_kind_, joint_kind_}) box->setEnabled(open);
    fields_->show_fields(field_paths(), open);
    list_->show_list(drawing_->end(), in_bar ? a.bar.form : job::Form::Sizes, open);
    note_->setVisible(!open || document_.describes());
    if (document_.describes())
        note_->setText(
            tr("This is the car as it is. Nothing was fitted or tried yet, so what you type here describes it; "
               "press T for Trial to try something."));
    else
        note_->setText(tr("This is what is on the car. It changes by “Fit it”, or by “Found so” when the car is found "
                          "different. Press T for Trial."));
}

bool BarStation::go_to(const QString& path) {
    if (!path.startsWith("trial/") || path.contains("/plan/") || is_of_car(path)) return false;
    if (!document_.describes()) document_.set_look(Look::Trial);
    show_axle(path.startsWith("trial/front") ? End::Front : End::Rear);
    const QString group = path.section('/', 2, 2);
    show_group(group == "pickups" ? "links" : group);
    fields_->focus(document_.look_path() + path.mid(5));
    return true;
}

void BarStation::step(int by) { roll_->setValue(roll_->value() + 5 * by); }

void BarStation::play() { player_->toggle(); }

void BarStation::measure_next() { next_->setFocus(); }

void BarStation::change_eye_count(int by) {
    document_.edit(by > 0 ? tr("eye added") : tr("eye removed"), {}, [&](job::Job& job) {
        by > 0 ? edit::add_eye(job, drawing_->end()) : edit::remove_eye(job, drawing_->end());
    });
}

void BarStation::show_shelf() {
    QMenu menu(this);
    const auto& shelf = document_.job().shelf;
    if (shelf.empty()) menu.addAction(tr("The shelf is empty: put a bar on it to keep its numbers"))->setEnabled(false);
    for (std::size_t i = 0; i < shelf.size(); ++i)
        connect(menu.addAction(tr("Try %1").arg(QString::fromStdString(shelf[i].bar.name))), &QAction::triggered, this,
                [this, i] {
                    document_.set_look(Look::Trial); // it is tried, not what is on the car
                    document_.edit(tr("bar from the shelf"), {},
                                   [&](job::Job& job) { edit::try_from_shelf(job, drawing_->end(), i); });
                });
    menu.addSeparator();
    connect(menu.addAction(tr("Put this bar's numbers on the shelf")), &QAction::triggered, this, [this] {
        document_.edit(tr("bar put on the shelf"), {}, [&](job::Job& job) {
            edit::put_on_shelf(job, document_.look() == Look::Trial, drawing_->end());
        });
    });
    menu.exec(QCursor::pos());
}

} // namespace dervish::app

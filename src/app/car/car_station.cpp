#include "app/car/car_station.h"
#include "app/widgets/car_fields.h"
#include "app/widgets/choice_row.h"
#include "app/widgets/page_pieces.h"
#include "core/edit/edits.h"
#include "core/job/fields.h"

#include "app/car/car_drawing.h"
#include "app/car/measuring_list.h"
#include "app/car/stand_reading.h"
#include "app/widgets/chip.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/measure_next.h"
#include "app/widgets/paged.h"
#include "app/widgets/station_frame.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace dervish::app {

CarStation::CarStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), drawing_(new CarDrawing(document)), fields_(new FieldPanel(document)),
      next_(new MeasureNext(document)), parts_(new QButtonGroup(this)), readings_(new QButtonGroup(this)),
      stand_(new StandReading(document)), kind_(new QComboBox), wheels_(new QComboBox), loads_(new QComboBox),
      car_name_(new QLineEdit), load_name_(new QLineEdit), aboard_(new QCheckBox(tr("Aboard"))),
      load_tools_(new QWidget), kind_tools_(new QWidget), car_tools_(new QWidget) {
    auto* list = new MeasuringList(document);
    QVBoxLayout* side = lay_station(
        this, drawing_,
        paged(readings_,
              {{tr("Measuring list"), scrolled(list), tr("Every number of the car, in walking order round it")},
               {tr("Ride height"), stand_, tr("How high each axle stands, what moves with it, and its clicks")}}),
        306);
    auto* chips = new QHBoxLayout;
    chips->setSpacing(4);
    int id = 0;
    for (const QString& word : {tr("Whole"), tr("Front"), tr("Rear"), tr("Loads")})
        chips->addWidget(chip(parts_, id++, word, {}, 6));
    side->addLayout(chips);

    auto* naming = new QHBoxLayout(car_tools_);
    naming->setContentsMargins(0, 4, 0, 0);
    naming->addWidget(new QLabel(tr("Name")));
    car_name_->setObjectName("car name");
    aboard_->setObjectName("aboard");
    naming->addWidget(car_name_, 1);
    side->addWidget(car_tools_);
    auto* kinds = new QHBoxLayout(kind_tools_);
    kinds->setContentsMargins(0, 4, 0, 0);
    kind_->addItems({tr("independent"), tr("solid axle")});
    kind_->setObjectName("axle kind");
    kinds->addWidget(kind_, 1);
    wheels_->addItems({tr("one wheel a side"), tr("two wheels a side")});
    wheels_->setObjectName("wheels a side");
    wheels_->setToolTip(tr("Of a pair each tyre carries half; the track is to the pairs' middles"));
    kinds->addWidget(wheels_, 1);
    side->addWidget(kind_tools_);
    auto* loads = new QVBoxLayout(load_tools_);
    loads->setContentsMargins(0, 4, 0, 0);
    auto* choose = new QHBoxLayout;
    auto *add = new QPushButton(tr("Add")), *remove = new QPushButton(tr("Remove"));
    add->setObjectName("add load");
    choose->addWidget(loads_, 1);
    choose->addWidget(add);
    choose->addWidget(remove);
    loads->addLayout(choose);
    auto* named = new QHBoxLayout;
    load_name_->setObjectName("load name");
    named->addWidget(load_name_, 1);
    named->addWidget(aboard_);
    loads->addLayout(named);
    side->addWidget(load_tools_);
    side->addWidget(fields_);
    side->addWidget(source_legend(document_));
    side->addWidget(next_);
    side->addWidget(
        caution(tr("Loads up high"), tr("A roof load, a lift and a disconnected bar each lower the rollover stability, "
                                        "together more so. Keep to the maker's gross and axle "
                                        "loads. Never under a car on a jack: stands on firm ground, wheels chocked.")));
    side->addStretch();

    connect(drawing_, &CarDrawing::part_picked, this, &CarStation::pick);
    connect(list, &MeasuringList::picked, this, &CarStation::go_to);
    connect(parts_, &QButtonGroup::idClicked, this, [this](int part) {
        pick(part == 0 ? "vehicle" : part == 1 ? "vehicle/front" : part == 2 ? "vehicle/rear" : "vehicle/loads/0");
    });
    connect(loads_, &QComboBox::activated, this, [this](int index) { pick(QString("vehicle/loads/%1").arg(index)); });
    bind_choice(kind_, document_, tr("kind of suspension"), [this] { return part_ + "/kind"; });
    bind_choice(wheels_, document_, tr("wheels a side"), [this] { return part_ + "/wheels_a_side"; });
    connect(car_name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        document_.edit(tr("name of the car"), "car name",
                       [&](job::Job& job) { job::set_words(job, "vehicle/name", text.toStdString()); });
    });
    connect(load_name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        document_.edit(tr("name of a load"), "load name " + part_, [&](job::Job& job) {
            job::set_words(job, QString("vehicle/loads/%1/name").arg(load_index()).toStdString(), text.toStdString());
        });
    });
    connect(aboard_, &QCheckBox::clicked, this, [this](bool on) {
        document_.edit(tr("load aboard"), {}, [&](job::Job& job) {
            edit::set_aboard(document_.look() == Look::Trial ? job.trial : job.fitted,
                             job.vehicle.loads.at(static_cast<std::size_t>(load_index())), on);
        });
    });
    connect(add, &QPushButton::clicked, this, &CarStation::add_load);
    connect(remove, &QPushButton::clicked, this, [this] {
        if (load_index() >= 0)
            document_.edit(tr("load removed"), {},
                           [&](job::Job& job) { edit::remove_load(job, static_cast<std::size_t>(load_index())); });
    });
    new Follow(document_, this, [this] { refresh(); });
    pick("vehicle");
}

void CarStation::pose(int shot) {
    pick("vehicle");
    readings_->button(shot)->click();
}

int CarStation::load_index() const {
    if (!part_.startsWith("vehicle/loads/")) return -1;
    const int index = part_.section('/', 2, 2).toInt();
    return index < static_cast<int>(document_.job().vehicle.loads.size())
               ? index
               : static_cast<int>(document_.job().vehicle.loads.size()) - 1;
}

void CarStation::add_load() {
    document_.edit(tr("load added"), {}, [](job::Job& job) { edit::add_load(job); });
    pick(QString("vehicle/loads/%1").arg(document_.job().vehicle.loads.size() - 1));
}

void CarStation::pick(const QString& path) {
    part_ = path;
    parts_->button(path.startsWith("vehicle/loads") ? 3
                   : path == "vehicle/front"        ? 1
                   : path == "vehicle/rear"         ? 2
                                                    : 0)
        ->setChecked(true);
    refresh();
}

void CarStation::refresh() {
    const job::Vehicle& v = document_.job().vehicle;
    const bool loads = part_.startsWith("vehicle/loads"), axle = part_ == "vehicle/front" || part_ == "vehicle/rear";
    load_tools_->setVisible(loads);
    kind_tools_->setVisible(axle);
    car_tools_->setVisible(!loads && !axle);
    if (axle) {
        const job::AxleData& on = v[part_ == "vehicle/front" ? End::Front : End::Rear];
        kind_->setCurrentIndex(static_cast<int>(on.kind));
        wheels_->setCurrentIndex(static_cast<int>(on.wheels_a_side));
    }
    const auto set = [](QLineEdit* edit, const std::string& text) {
        if (edit->text() != QString::fromStdString(text)) edit->setText(QString::fromStdString(text));
    };
    set(car_name_, v.name);
    const int index = load_index();
    Entries names;
    for (const job::Load& l : v.loads) names.emplace_back(qs(l.name), QVariant());
    refill(loads_, names);
    loads_->setCurrentIndex(index);
    load_name_->setEnabled(index >= 0);
    aboard_->setEnabled(index >= 0);
    aboard_->setText(document_.look() == Look::Trial ? tr("Aboard Trial") : tr("Aboard Fitted"));
    if (index >= 0) {
        set(load_name_, v.loads[static_cast<std::size_t>(index)].name);
        aboard_->setChecked(job::is_aboard(v.loads[static_cast<std::size_t>(index)], document_.looked_setup()));
    }
    if (loads) {
        fields_->show_fields(index >= 0 ? QStringList{QString("vehicle/loads/%1").arg(index)} : QStringList{}, true);
    } else if (axle) {
        fields_->show_fields(axle_paths(document_, part_ == "vehicle/front" ? End::Front : End::Rear, false),
                             true); // the rest elsewhere
    } else {
        QStringList whole;
        for (const char* key : {"wheelbase", "front_left_load", "front_right_load", "rear_left_load", "rear_right_load",
                                "cg_height", "chassis_torsion"})
            whole << QString("vehicle/") + key;
        whole << brace_path(document_);
        fields_->show_fields(whole, true);
    }
}

bool CarStation::go_to(const QString& path) {
    const QString at = as_edited(document_, path);
    for (const End end : both_ends)
        if (axle_paths(document_, end, false).contains(at)) {
            pick(QString("vehicle/") + name_of(end) + "");
            fields_->focus(at);
            return true;
        }
    const bool load = at.startsWith("vehicle/loads/");
    if (!load && at != brace_path(document_) && (!at.startsWith("vehicle/") || at.count('/') > 1)) return false;
    pick(load ? at.section('/', 0, 2) : "vehicle");
    fields_->focus(at);
    return true;
}

void CarStation::measure_next() { next_->setFocus(); }

void CarStation::ask(study::Outcome outcome, const QString& name) { next_->ask(outcome, name); }

} // namespace dervish::app

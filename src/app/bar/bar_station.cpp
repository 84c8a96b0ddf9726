#include "app/bar/bar_station.h"

#include "app/bar/bar_drawing.h"
#include "app/bar/bar_readings.h"
#include "app/bar/choices_reading.h"
#include "app/bar/rig_reading.h"
#include "app/bar/travel_reading.h"
#include "app/widgets/field_panel.h"
#include "app/widgets/field_row.h"
#include "app/widgets/follow.h"
#include "app/widgets/list_table.h"
#include "app/widgets/measure_next.h"
#include "app/widgets/station_frame.h"
#include "core/bar/bushing.h"
#include "core/job/fields.h"
#include "core/job/model.h"
#include "store/centreline_csv.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QMessageBox>
#include <QPainter>
#include <QPdfWriter>
#include <QPushButton>
#include <QSlider>
#include <QStackedWidget>
#include <QSvgGenerator>
#include <QTimer>
#include <cmath>

namespace dervish::app {

BarStation::BarStation(Document& document, QWidget* parent)
    : Station(parent), document_(document), drawing_(new BarDrawing(document)), readings_(new BarReadings(document)),
      travel_(new TravelReading(document)), choices_(new ChoicesReading(document)), rig_(new RigReading(document)),
      fields_(new FieldPanel(document)), next_(new MeasureNext(document)), axles_(new QButtonGroup(this)),
      groups_(new QButtonGroup(this)), fitted_(new QCheckBox(tr("Bar fitted"))),
      connected_(new QCheckBox(tr("Links connected"))), name_(new QLineEdit), eye_buttons_(new QWidget),
      form_tools_(new QWidget), arms_tools_(new QWidget), held_tools_(new QWidget), end_tools_(new QWidget),
      csv_tools_(new QWidget), form_(new QComboBox), arms_(new QComboBox), held_(new QComboBox), end_(new QComboBox),
      list_(new ListTable(document)), note_(new QLabel), roll_(new QSlider(Qt::Horizontal)), player_(new QTimer(this)) {
    QVBoxLayout* side = lay_station(this, drawing_, build_reading(), 250);

    auto* over = new QHBoxLayout(drawing_); // controls that lie on the drawing
    over->setContentsMargins(18, 10, 0, 0);
    auto* controls = new QWidget;
    auto* line = new QHBoxLayout(controls);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(6);
    for (const auto& [index, word] : {std::pair{0, tr("Front")}, {1, tr("Rear")}}) {
        auto* button = new QPushButton(word);
        button->setCheckable(true);
        button->setObjectName(index == 0 ? "front bar" : "rear bar");
        axles_->addButton(button, index);
        line->addWidget(button);
    }
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
    for (const QString& word : {tr("Bar"), tr("Mounts"), tr("Links")}) {
        auto* chip = new QPushButton(word);
        chip->setCheckable(true);
        chip->setObjectName(word);
        groups_->addButton(chip, index++);
        chips->addWidget(chip);
    }
    groups_->button(0)->setChecked(true);
    side->addLayout(chips);
    side->addWidget(build_forms());
    side->addWidget(fields_);
    side->addWidget(list_);
    auto* eyes = new QHBoxLayout(eye_buttons_);
    eyes->setContentsMargins(0, 2, 0, 2);
    auto *more = new QPushButton(tr("Add an eye")), *fewer = new QPushButton(tr("Take the inner eye off"));
    more->setObjectName("add eye");
    fewer->setObjectName("take eye off");
    eyes->addWidget(more);
    eyes->addWidget(fewer);
    side->addWidget(eye_buttons_);
    note_->setWordWrap(true);
    side->addWidget(note_);
    side->addWidget(source_legend());
    side->addWidget(next_);
    side->addWidget(caution(tr("Before the links come off"),
                            tr("Chock and stand the car on firm ground, wheels at equal height. A twisted bar holds "
                               "energy: loosen both sides before either is "
                               "moved. A bar taken off lowers the rollover stability. Torque figures are the vehicle "
                               "maker's; welding is a qualified welder's.")));
    side->addStretch();

    connect(axles_, &QButtonGroup::idClicked, this, [this](int id) { show_axle(id == 0); });
    connect(groups_, &QButtonGroup::idClicked, this, [this](int id) {
        show_group(id == 0 ? "bar" : id == 1 ? "mounts" : "links");
    });
    connect(drawing_, &BarDrawing::part_picked, this, &BarStation::show_group);
    connect(roll_, &QSlider::valueChanged, this,
            [this](int tenths) { drawing_->set_roll(tenths / 10.0 * units::deg); });
    connect(player_, &QTimer::timeout, this,
            [this] { roll_->setValue(static_cast<int>(50 * std::sin(++phase_ * 0.08))); });
    const auto toggle = [this](QCheckBox* box, bool job::Assembly::*flag, const QString& what) {
        connect(box, &QCheckBox::clicked, this, [this, flag, what](bool on) {
            document_.edit(what, {},
                           [&](job::Job& job) { (drawing_->front() ? job.trial.front : job.trial.rear).*flag = on; });
        });
    };
    toggle(fitted_, &job::Assembly::fitted, tr("bar fitted"));
    toggle(connected_, &job::Assembly::connected, tr("links connected"));
    connect(name_, &QLineEdit::textEdited, this, [this](const QString& text) {
        document_.edit(tr("name of the bar"), "bar name", [&](job::Job& job) {
            (drawing_->front() ? job.trial.front : job.trial.rear).bar.name = text.toStdString();
        });
    });
    connect(shelf, &QPushButton::clicked, this, &BarStation::show_shelf);
    connect(more, &QPushButton::clicked, this, [this] { change_eye_count(+1); });
    connect(fewer, &QPushButton::clicked, this, [this] { change_eye_count(-1); });
    new Follow(document_, this, [this] { refresh(); });
    show_axle(true);
}

QWidget* BarStation::build_forms() {
    auto* all = new QWidget;
    auto* column = new QVBoxLayout(all);
    column->setContentsMargins(0, 2, 0, 0);
    column->setSpacing(2);
    const auto line = [&](QWidget* tools, const QString& words, QComboBox* box, const QStringList& entries,
                          const QString& name) {
        auto* row = new QHBoxLayout(tools);
        row->setContentsMargins(0, 2, 0, 2);
        row->addWidget(new QLabel(words));
        box->addItems(entries);
        box->setObjectName(name);
        box->setAccessibleName(words);
        row->addWidget(box, 1);
        column->addWidget(tools);
    };
    line(form_tools_, tr("Entered by"), form_, {tr("its sizes"), tr("a walk along it"), tr("points in space")}, "form");
    line(arms_tools_, tr("Arms"), arms_, {tr("bent from the bar"), tr("separate, round"), tr("separate, blade")},
         "arms");
    line(held_tools_, tr("Held by"), held_, {tr("mounts and links"), tr("clamps on trailing arms")}, "held");
    line(end_tools_, tr("Links go"), end_, {tr("down from the eye"), tr("up from the eye")}, "link end");
    auto* csv = new QHBoxLayout(csv_tools_);
    csv->setContentsMargins(0, 2, 0, 2);
    auto *in = new QPushButton(tr("Read CSV …")), *out = new QPushButton(tr("Write CSV …"));
    in->setObjectName("read csv");
    out->setObjectName("write csv");
    csv->addWidget(in);
    csv->addWidget(out);
    csv->addStretch();
    column->addWidget(csv_tools_);
    auto* bush = new QPushButton(tr("Estimate the bush from its size …"));
    bush->setObjectName("estimate bush");
    bush_ = bush;
    column->addWidget(bush, 0, Qt::AlignLeft);
    connect(bush, &QPushButton::clicked, this, &BarStation::ask_bush);
    connect(in, &QPushButton::clicked, this, &BarStation::import_centreline);
    connect(out, &QPushButton::clicked, this, &BarStation::export_centreline);
    connect(form_, &QComboBox::activated, this, [this](int i) { change_form(static_cast<job::Form>(i)); });
    connect(arms_, &QComboBox::activated, this, [this](int i) {
        document_.edit(tr("kind of arms"), {}, [&](job::Job& job) {
            job::BarData& b = of_trial(job).bar;
            b.arms = static_cast<job::Arms>(i);
            // What was never given starts as a guess.
            for (const auto& [value, guess] : {std::pair{&b.arm_diameter, b.outer_diameter.value},
                                               {&b.blade_width, 0.035},
                                               {&b.blade_thickness, 0.008}})
                if (!(value->value > 0))
                    *value = {units::as_filed(guess, units::Quantity::Length), 0.15 * guess, job::Source::Assumed};
        });
    });
    connect(held_, &QComboBox::activated, this, [this](int i) {
        document_.edit(tr("how the bar is held"), {}, [&](job::Job& job) {
            job::Assembly& a = of_trial(job);
            a.held = static_cast<job::Held>(i);
            const job::Assembly guess = job::blank().trial.front;
            if (!(a.trailing_arms.to_wheel.value > 0)) a.trailing_arms = guess.trailing_arms;
            if (!(a.mounts.vertical.value > 0)) a.mounts = guess.mounts;
            if (!(a.links.length.value > 0)) a.links = guess.links;
        });
    });
    connect(end_, &QComboBox::activated, this, [this](int i) {
        document_.edit(tr("the links' other end"), {},
                       [&](job::Job& job) { of_trial(job).links.end = static_cast<job::LinkEnd>(i); });
    });
    return all;
}

QWidget* BarStation::build_reading() {
    auto* whole = new QWidget;
    whole->setObjectName("ground");
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* chips = new QHBoxLayout;
    chips->setContentsMargins(20, 4, 20, 0);
    chips->setSpacing(4);
    auto* stack = new QStackedWidget;
    auto* group = pages_ = new QButtonGroup(this);
    const std::pair<QString, QWidget*> pages[] = {
        {tr("Stiffness"), readings_}, {tr("Travel"), travel_}, {tr("Choices"), choices_}, {tr("Rig check"), rig_}};
    int id = 0;
    for (const auto& [word, page] : pages) {
        auto* chip = new QPushButton(word);
        chip->setCheckable(true);
        chip->setChecked(id == 0);
        chip->setObjectName("reading " + word);
        chip->setStyleSheet("padding: 2px 10px;");
        group->addButton(chip, id++);
        chips->addWidget(chip);
        stack->addWidget(page);
    }
    chips->addStretch();
    auto* out = new QPushButton(tr("Export …"));
    out->setObjectName("export");
    out->setStyleSheet("padding: 2px 10px;");
    out->setToolTip(tr("The drawing as SVG, PNG or PDF, the curves as CSV"));
    chips->addWidget(out);
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
    column->addLayout(chips);
    column->addWidget(stack, 1);
    connect(group, &QButtonGroup::idClicked, stack, &QStackedWidget::setCurrentIndex);
    return whole;
}

job::Assembly& BarStation::of_trial(job::Job& job) const {
    return drawing_->front() ? job.trial.front : job.trial.rear;
}

const job::Assembly& BarStation::assembly() const {
    const job::Setup& s = document_.looked_setup();
    return drawing_->front() ? s.front : s.rear;
}

QStringList BarStation::field_paths() const {
    if (group_ != "bar") return {prefix() + (assembly().held == job::Held::Clamped ? "trailing_arms" : group_)};
    QStringList out; // all but the list's, which have their table
    job::Job copy = document_.job();
    for (const job::FieldRef& f : job::fields(copy, (prefix() + "bar").toStdString())) {
        const QString path = QString::fromStdString(f.path);
        if (!path.contains("/walk/") && !path.contains("/points/")) out << path;
    }
    return out;
}

void BarStation::change_form(job::Form form) {
    document_.edit(tr("how the bar is entered"), {}, [&](job::Job& job) {
        job::Assembly& a = of_trial(job);
        try { // begin with the bar as it stands, so that only what differs need be typed
            if (form == job::Form::Walk && a.bar.walk.empty()) a.bar.walk = job::walk_of(a);
            if (form == job::Form::Points && a.bar.points.empty()) a.bar.points = job::points_of(a);
        } catch (const BadInput&) { // begins empty
        }
        a.bar.form = form;
    });
}

void BarStation::write_centreline(const QString& file) const {
    QFile out(file);
    if (!out.open(QIODevice::WriteOnly) || out.write(store::centreline_csv(job::to_laid(assembly())).c_str()) < 0)
        throw BadInput(file.toStdString(), "cannot be written", "choose a folder that can be written");
}

void BarStation::take_centreline(const QString& file) {
    QFile in(file);
    if (!in.open(QIODevice::ReadOnly) || in.size() > (1 << 20))
        throw BadInput(file.toStdString(), "cannot be read", "choose a CSV file of at most 1 MB");
    const std::vector<job::PointData> points = store::read_centreline(in.readAll().toStdString());
    document_.edit(tr("centreline from a file"), {}, [&](job::Job& job) {
        job::Assembly& a = of_trial(job);
        a.bar.points = points;
        a.bar.form = job::Form::Points;
        a.left_eye = a.right_eye = 0;
    });
}

void BarStation::export_to(const QString& file) {
    const QString kind = QFileInfo(file).suffix().toLower();
    bool good = true;
    const auto draw = [&](QPaintDevice& device, double scale) {
        QPainter painter(&device);
        good = painter.isActive();
        painter.scale(scale, scale);
        drawing_->render(&painter, {}, {}, {}); // the picture, not the controls on it
    };
    if (kind == "svg") {
        QSvgGenerator svg;
        svg.setFileName(file);
        svg.setSize(drawing_->size());
        svg.setViewBox(drawing_->rect());
        svg.setTitle(QString::fromStdString(assembly().bar.name));
        draw(svg, 1);
        good = good && QFileInfo(file).size() > 0;
    } else if (kind == "png") {
        QImage image(2 * drawing_->size(), QImage::Format_RGB32);
        draw(image, 2);
        good = image.save(file);
    } else if (kind == "pdf") {
        QPdfWriter pdf(file);
        pdf.setPageOrientation(QPageLayout::Landscape);
        draw(pdf, static_cast<double>(pdf.width()) / drawing_->width());
    } else if (kind == "csv") {
        QFile out(file);
        const QByteArray text = travel_->csv().toUtf8();
        if (text.isEmpty()) throw BadInput(file.toStdString(), "this bar has no curves", "fit a bar with links first");
        good = out.open(QIODevice::WriteOnly) && out.write(text) == text.size();
    } else {
        throw BadInput(file.toStdString(), "\"" + kind.toStdString() + "\" is no kind of picture or table known here",
                       "end the name in .svg, .png, .pdf or .csv");
    }
    if (!good) throw BadInput(file.toStdString(), "cannot be written", "choose a folder that can be written");
}

void BarStation::estimate_bush(double shore, double outer, double length) {
    const bar::BushRate rate = bar::radial_rate(shore, assembly().bar.outer_diameter.value, outer, length);
    document_.edit(tr("bush by its size"), {}, [&](job::Job& job) {
        job::MountData& m = of_trial(job).mounts;
        for (job::Measured* k : {&m.vertical, &m.fore_aft})
            *k = {units::as_filed(rate.value, units::Quantity::Rate),
                  units::as_filed(rate.sigma, units::Quantity::Rate), job::Source::Assumed};
    });
}

void BarStation::ask_bush() {
    if (document_.look() != Look::Trial) return;
    QDialog card(this);
    card.setObjectName("bush card");
    card.setWindowTitle(tr("Estimate the bush"));
    auto* form = new QFormLayout(&card);
    const job::FieldSpec specs[] = {
        {"shore", "Hardness, Shore A", units::Quantity::Number, job::Tool::Test, 20, 95},
        {"outer", "Outer diameter", units::Quantity::Length, job::Tool::Calliper, 1e-3, 0.3},
        {"length", "Length along the bar", units::Quantity::Length, job::Tool::Calliper, 1e-3, 0.3}};
    QLineEdit* edits[3];
    for (int i = 0; i < 3; ++i) {
        const auto symbol = units::shown(specs[i].quantity, document_.units()).symbol;
        edits[i] = new QLineEdit;
        edits[i]->setObjectName(specs[i].key);
        form->addRow(QString(specs[i].label) + (symbol.empty() ? "" : ", " + QString::fromUtf8(symbol.data())),
                     edits[i]);
    }
    auto* note = new QLabel(
        tr("Bore: the bar's own diameter. Two theories bound the rate and differ several times over: the value is "
           "between them, its band spans both, and it counts as assumed. Measuring it is far better."));
    note->setWordWrap(true);
    auto* error = new QLabel;
    error->setObjectName("bush error");
    error->setWordWrap(true);
    error->setStyleSheet("color: " + theme().caution.name());
    auto* take = new QPushButton(tr("Take it"));
    take->setObjectName("take bush");
    form->addRow(note);
    form->addRow(error);
    form->addRow(take);
    connect(take, &QPushButton::clicked, &card, [&] {
        try {
            double values[3];
            for (int i = 0; i < 3; ++i)
                values[i] = job::parse(edits[i]->text().toStdString(), specs[i], document_.units(), specs[i].key);
            estimate_bush(values[0], values[1], values[2]);
            card.accept();
        } catch (const BadInput& e) {
            error->setText(QString::fromStdString(e.problem() + "; " + e.accepted()));
        }
    });
    card.exec();
}

void BarStation::export_centreline() {
    const QString file =
        QFileDialog::getSaveFileName(this, tr("Write the centreline"), "bar.csv", tr("Tables (*.csv)"));
    if (file.isEmpty()) return;
    try {
        write_centreline(file);
    } catch (const BadInput& e) {
        QMessageBox::warning(this, tr("Not written"), QString::fromStdString(e.what()));
    }
}

void BarStation::import_centreline() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Read a centreline"), {}, tr("Tables (*.csv *.txt)"));
    if (file.isEmpty()) return;
    try {
        take_centreline(file);
    } catch (const BadInput& e) {
        QMessageBox::warning(this, tr("Not read"), QString::fromStdString(e.what()));
    }
}

QString BarStation::prefix() const { return document_.look_path() + (drawing_->front() ? "/front/" : "/rear/"); }

void BarStation::show_axle(bool front) {
    axles_->button(front ? 0 : 1)->setChecked(true);
    drawing_->show_axle(front);
    readings_->show_axle(front);
    travel_->show_axle(front);
    choices_->show_axle(front);
    rig_->show_axle(front);
    next_->ask(front ? job::FrontRate : job::RearRate, front ? tr("front bar's rate") : tr("rear bar's rate"));
    refresh();
}

void BarStation::show_group(const QString& group) {
    group_ = group;
    groups_->button(group == "bar" ? 0 : group == "mounts" ? 1 : 2)->setChecked(true);
    refresh();
}

void BarStation::refresh() {
    const bool trial = document_.look() == Look::Trial;
    const job::Assembly& a = drawing_->front() ? document_.looked_setup().front : document_.looked_setup().rear;
    fitted_->setChecked(a.fitted);
    connected_->setChecked(a.connected);
    fitted_->setEnabled(trial);
    connected_->setEnabled(trial);
    const QString name = QString::fromStdString(a.bar.name);
    if (name_->text() != name) name_->setText(name);
    name_->setReadOnly(!trial);
    const bool sizes = a.bar.form == job::Form::Sizes, in_bar = group_ == "bar", clamped = a.held == job::Held::Clamped;
    eye_buttons_->setVisible(in_bar && trial && sizes && !clamped);
    form_tools_->setVisible(in_bar);
    arms_tools_->setVisible(in_bar && sizes && !clamped);
    held_tools_->setVisible(group_ == "mounts");
    end_tools_->setVisible(group_ == "links" && !clamped);
    bush_->setVisible(group_ == "mounts" && !clamped && trial);
    csv_tools_->setVisible(in_bar && trial);
    form_->setCurrentIndex(static_cast<int>(a.bar.form));
    arms_->setCurrentIndex(static_cast<int>(a.bar.arms));
    held_->setCurrentIndex(static_cast<int>(a.held));
    end_->setCurrentIndex(static_cast<int>(a.links.end));
    for (QComboBox* box : {form_, arms_, held_, end_}) box->setEnabled(trial);
    fields_->show_fields(field_paths(), trial);
    list_->show_list(drawing_->front(), in_bar ? a.bar.form : job::Form::Sizes, trial);
    note_->setVisible(!trial);
    note_->setText(tr("This is what is on the car. It changes by “Fit it”, or by “Found so” when the car is found "
                      "different. Press T for Trial."));
}

bool BarStation::go_to(const QString& path) {
    if (!path.startsWith("trial/")) return false;
    document_.set_look(Look::Trial);
    show_axle(path.startsWith("trial/front"));
    show_group(path.section('/', 2, 2));
    if (FieldRow* row = fields_->row(path)) {
        row->edit()->setFocus();
        row->edit()->selectAll();
    }
    return true;
}

void BarStation::step(int by) { roll_->setValue(roll_->value() + 5 * by); }

void BarStation::play() {
    if (player_->isActive())
        player_->stop();
    else
        player_->start(33);
}

void BarStation::measure_next() { next_->setFocus(); }

void BarStation::change_eye_count(int by) {
    document_.edit(by > 0 ? tr("eye added") : tr("eye taken off"), {}, [&](job::Job& job) {
        job::Assembly& a = drawing_->front() ? job.trial.front : job.trial.rear;
        auto& eyes = a.bar.eyes;
        if (by > 0 && eyes.size() < 4) {
            job::Eye next = eyes.back();
            next.arm_length.value = units::as_filed(0.92 * next.arm_length.value, units::Quantity::Length);
            next.arm_length.source = job::Source::Assumed;
            eyes.push_back(next);
        } else if (by < 0 && eyes.size() > 1) {
            eyes.pop_back();
            const int last = static_cast<int>(eyes.size()) - 1;
            a.left_eye = std::min(a.left_eye, last);
            a.right_eye = std::min(a.right_eye, last);
        }
    });
}

void BarStation::show_shelf() {
    QMenu menu(this);
    const auto& shelf = document_.job().shelf;
    if (shelf.empty()) menu.addAction(tr("The shelf is empty: put a bar on it to keep its numbers"))->setEnabled(false);
    for (std::size_t i = 0; i < shelf.size(); ++i)
        connect(menu.addAction(tr("Try %1").arg(QString::fromStdString(shelf[i].bar.name))), &QAction::triggered, this,
                [this, i] {
                    document_.edit(tr("bar from the shelf"), {}, [&](job::Job& job) {
                        (drawing_->front() ? job.trial.front : job.trial.rear) = job.shelf[i];
                    });
                });
    menu.addSeparator();
    connect(menu.addAction(tr("Put this bar's numbers on the shelf")), &QAction::triggered, this, [this] {
        document_.edit(tr("bar put on the shelf"), {}, [&](job::Job& job) {
            const job::Setup& s = document_.look() == Look::Trial ? job.trial : job.fitted;
            job.shelf.push_back(drawing_->front() ? s.front : s.rear);
        });
    });
    menu.exec(QCursor::pos());
}

} // namespace dervish::app

#include "app/bar/bar_drawing.h"
#include "app/bar/bar_station.h"
#include "app/bar/travel_reading.h"
#include "app/shell/theme.h"
#include "app/widgets/choice_row.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/bar/bushing.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/job/fields.h"
#include "core/model/model.h"
#include "core/study/choices.h"
#include "store/centreline_csv.h"
#include "store/file.h"

#include <QBuffer>
#include <QComboBox>
#include <QDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QImage>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPainter>
#include <QPdfWriter>
#include <QPushButton>
#include <QSvgGenerator>
#include <QVBoxLayout>

/// How a bar comes in and goes out: its form, its file, its bushes by size, its picture.
namespace dervish::app {

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
    line(bush_tools_, tr("Bushes"), bush_kind_, {tr("kind not said"), tr("rubber"), tr("urethane"), tr("metal")},
         "bush kind");
    line(joint_tools_, tr("Joints"), joint_kind_,
         {tr("kind not said"), tr("ball joints"), tr("rubber bushes"), tr("urethane bushes"), tr("rod ends")},
         "joint kind");
    for (QComboBox* box : {bush_kind_, joint_kind_})
        box->setToolTip(
            tr("What is usual of the kind takes the place of rates that are only assumed, with a wide spread"));
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
    for (const auto& [box, field, what] : {std::tuple{form_, "bar/form", tr("how the bar is entered")},
                                           {arms_, "bar/arms", tr("kind of arms")},
                                           {held_, "held", tr("how the bar is held")},
                                           {bush_kind_, "mounts/kind", tr("kind of bushes")},
                                           {joint_kind_, "links/joints", tr("kind of joints")},
                                           {end_, "pickups/end", tr("the links' other end")}})
        bind_choice(box, document_, what, [this, field = field] { return prefix() + field; });
    return all;
}

void BarStation::write_centreline(const QString& file) const {
    document_.write_made(file, store::centreline_csv(model::to_laid(assembly())));
}

void BarStation::take_centreline(const QString& file) {
    const std::vector<job::PointData> points = store::read_centreline(store::read_file(file.toStdString(), 1 << 20));
    document_.edit(tr("centreline from a file"), {},
                   [&](job::Job& job) { edit::take_points(job, drawing_->end(), points); });
}

void BarStation::export_to(const QString& file) {
    const QString kind = QFileInfo(file).suffix().toLower();
    QByteArray bytes; // whole before the file is touched, so that a full disk costs nothing that was there
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    const auto draw = [&](QPaintDevice& device, double scale) {
        QPainter painter(&device);
        painter.scale(scale, scale);
        drawing_->render(&painter, {}, {}, {}); // the picture, not the controls on it
    };
    if (kind == "svg") {
        QSvgGenerator svg;
        svg.setOutputDevice(&buffer);
        svg.setSize(drawing_->size());
        svg.setViewBox(drawing_->rect());
        svg.setTitle(QString::fromStdString(assembly().bar.name));
        draw(svg, 1);
    } else if (kind == "png") {
        QImage image(2 * drawing_->size(), QImage::Format_RGB32);
        draw(image, 2);
        image.save(&buffer, "PNG");
    } else if (kind == "pdf") {
        QPdfWriter pdf(&buffer);
        pdf.setPageOrientation(QPageLayout::Landscape);
        draw(pdf, static_cast<double>(pdf.width()) / drawing_->width());
    } else if (kind == "csv") {
        bytes = QByteArray::fromStdString(travel_->csv());
        if (bytes.isEmpty()) throw BadInput(file.toStdString(), "this bar has no curves", "fit a bar with links first");
    } else {
        throw BadInput(file.toStdString(), "\"" + kind.toStdString() + "\" is no kind of picture or table known here",
                       "end the name in .svg, .png, .pdf or .csv");
    }
    document_.write_made(file, bytes.toStdString());
}

void BarStation::estimate_bush(double shore, double outer, double length) {
    const bar::BushRate rate = bar::radial_rate(shore, assembly().bar.outer_diameter.value, outer, length);
    document_.edit(tr("bush by its size"), {},
                   [&](job::Job& job) { edit::set_bush_rate(job, drawing_->end(), rate.value, rate.sigma); });
}

void BarStation::ask_bush() {
    if (!document_.may_change()) return;
    QDialog card(this);
    card.setObjectName("bush card");
    card.setWindowTitle(tr("Estimate the bush"));
    auto* form = new QFormLayout(&card);
    const job::FieldSpec specs[] = {
        {"shore", "Hardness, Shore A", units::Quantity::Number, job::Tool::Test, 20, 95},
        {"outer", "Outer diameter", units::Quantity::Length, job::Tool::Calliper, 1e-3, 0.3},
        {"length", "Length along the bar", units::Quantity::Length, job::Tool::Calliper, 1e-3, 0.3}};
    NumberEdit* edits[3];
    for (int i = 0; i < 3; ++i) {
        edits[i] = new NumberEdit(document_, specs[i]);
        edits[i]->setObjectName(specs[i].key);
        form->addRow(with_unit(specs[i].label, specs[i].quantity, document_.units()), edits[i]);
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

} // namespace dervish::app

#include "app/car/measuring_list.h"
#include "app/widgets/car_fields.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/source_mark.h"
#include "app/widgets/timing.h"
#include "core/job/fields.h"

#include <QMouseEvent>
#include <QPainter>

#include <map>

namespace dervish::app {

namespace {
constexpr double row_height = 15.6, first_row = 46;
constexpr int mark_room = 16; ///< of the source's mark
} // namespace

MeasuringList::MeasuringList(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("measuring list");
    setAccessibleName(tr("The measuring list, in walking order round the car"));
    auto* later = new Later(this, [this] { lay(); });
    connect(&document_, &Document::changed, later, qOverload<>(&QTimer::start));
}

void MeasuringList::resizeEvent(QResizeEvent*) { lay(); }

double MeasuringList::column() const { return (width() - 40.0) / 3; }

void MeasuringList::lay() {
    rows_.clear();
    std::map<QString, job::FieldSeen> known;
    QStringList whole;
    for (const job::FieldSeen& f : job::fields(document_.job())) {
        const QString path = QString::fromStdString(f.path);
        known.emplace(path, f);
        if (path.startsWith("vehicle/") && is_of_car(path) && !path.startsWith("vehicle/front/") &&
            !path.startsWith("vehicle/rear/") && !path.startsWith("vehicle/loads/"))
            whole << path;
    }
    whole << brace_path(document_) << document_.look_path() + "/bias_ratio";
    count_ = {};
    for (const auto& [path, f] : known)
        if (is_of_car(path) && as_edited(document_, path) == path) ++count_[static_cast<std::size_t>(f.value->source)];
    // Round the car: the whole, the front axle, the rear axle.
    const QStringList columns[] = {whole, axle_paths(document_, End::Front, true),
                                   axle_paths(document_, End::Rear, true)};
    const QFontMetricsF plain(face(13));
    double lowest = 0;
    for (int c = 0; c < 3; ++c) {
        double y = first_row + row_height + 1;
        for (const QString& path : columns[c]) {
            const job::FieldSeen& f = known.at(path);
            Row row{path, {}, {}, {}, 0, f.value->source, document_.job().drafts.contains(f.path)};
            const std::string_view unit = units::shown(f.spec.quantity, document_.units()).symbol;
            const bool word = f.spec.word && f.value->value == f.spec.word_value;
            row.value = row.waits ? tr("waits")
                                  : QString::fromStdString(job::show(f.value->value, f.spec, document_.units()) +
                                                           (word ? "" : " " + std::string(unit)));
            row.room = column() - 14 - paint::width_of(row.value, 13, row.waits) - mark_room - 6;
            row.name = paint::in_lines(f.spec.label, plain, {row.room / 0.85}, 3);
            const double tall = row_height + (row_height - 2) * static_cast<double>(row.name.size() - 1);
            row.box = QRectF(20 + c * column(), y - row_height / 2, column() - 8, tall);
            rows_.push_back(row);
            y += tall;
        }
        lowest = std::max(lowest, y);
    }
    setMinimumHeight(static_cast<int>(lowest));
    update();
}

void MeasuringList::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    p.setPen(QPen(t.rule, 1));
    p.drawLine(0, 0, width(), 0);
    const QRectF title = paint::text(p, {20, 20}, Qt::AlignLeft, tr("The measuring list"), 14, t.ink, true);
    paint::text_within(
        p, {title.right() + 12, 21}, width() - title.right() - 32,
        tr("%1 measured, %2 quoted, %3 assumed; click one to change it").arg(count_[0]).arg(count_[1]).arg(count_[2]),
        13, t.soft);
    const QString heads[] = {tr("Whole car"), tr("Front axle"), tr("Rear axle")};
    const QColor inks[] = {t.ink, axle_colour(End::Front), axle_colour(End::Rear)};
    for (int c = 0; c < 3; ++c)
        paint::text(p, {20 + c * column(), first_row}, Qt::AlignLeft, heads[c], 13, inks[c], true);
    for (const Row& row : rows_) {
        double y = row.box.top() + row_height / 2;
        paint_source(p, QRectF(row.box.left(), y - 4, 8, 8), row.source, t.ink);
        paint::text(p, {row.box.left() + column() - 14, y}, Qt::AlignRight, row.value, 13,
                    row.waits ? t.caution : t.ink, row.waits);
        for (const QString& words : row.name) {
            paint::text_within(p, {row.box.left() + mark_room, y}, row.room, words, 13, t.ink);
            y += row_height - 2;
        }
    }
}

void MeasuringList::mousePressEvent(QMouseEvent* event) {
    for (const Row& row : rows_)
        if (row.box.contains(event->position())) {
            const QString path = row.path; // the rows may be laid anew by what follows
            emit picked(path);
            return;
        }
}

} // namespace dervish::app

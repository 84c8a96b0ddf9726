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

MeasuringList::MeasuringList(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setAccessibleName(tr("The measuring list, in walking order round the car"));
    auto* later = new Later(this, [this] { update(); });
    connect(&document_, &Document::changed, later, qOverload<>(&QTimer::start));
}

void MeasuringList::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    p.setPen(QPen(t.rule, 1));
    p.drawLine(0, 0, width(), 0);
    places_.clear();

    job::Job copy = document_.job();
    std::map<QString, job::FieldRef> known;
    QStringList whole;
    for (const job::FieldRef& f : job::fields(copy)) {
        const QString path = QString::fromStdString(f.path);
        known.emplace(path, f);
        if (path.startsWith("vehicle/") && is_of_car(path) && !path.startsWith("vehicle/front/") &&
            !path.startsWith("vehicle/rear/") && !path.startsWith("vehicle/loads/"))
            whole << path;
    }
    whole << brace_path(document_) << "fitted/bias_ratio";
    // Round the car: the whole, the front axle, the rear axle.
    const std::pair<QStringList, QString> columns[] = {{whole, tr("Whole car")},
                                                       {axle_paths(document_, End::Front, true), tr("Front axle")},
                                                       {axle_paths(document_, End::Rear, true), tr("Rear axle")}};
    int count[3] = {};
    for (const auto& [path, f] : known)
        if (is_of_car(path) && as_edited(document_, path) == path) ++count[static_cast<int>(f.value->source)];
    const QRectF title = paint::text(p, {20, 20}, Qt::AlignLeft, tr("The measuring list"), 14, t.ink, true);
    paint::text(
        p, {title.right() + 12, 21}, Qt::AlignLeft,
        tr("%1 measured, %2 quoted, %3 assumed; click one to change it").arg(count[0]).arg(count[1]).arg(count[2]), 12,
        t.soft);

    const double column = (width() - 40.0) / 3, line = 15.6;
    for (int c = 0; c < 3; ++c) {
        double y = 46;
        const double x = 20 + c * column, right = x + column - 26;
        paint::text(p, {x, y}, Qt::AlignLeft, columns[c].second, 12,
                    c == 0 ? t.ink : axle_colour(c == 1 ? End::Front : End::Rear), true);
        y += line + 1;
        for (const QString& path : columns[c].first) {
            const job::FieldRef& f = known.at(path);
            if (y > height() - 6) break;
            const bool waits = document_.job().drafts.contains(f.path);
            const units::Unit unit = units::shown(f.spec.quantity, document_.units());
            paint_source(p, QRectF(x, y - 4, 8, 8), f.value->source, t.ink);
            const bool word = f.spec.word && f.value->value == f.spec.word_value;
            const QString value =
                waits ? tr("waits")
                      : QString::fromStdString(job::show(f.value->value, f.spec, document_.units())) +
                            (word ? QString()
                                  : " " + QString::fromUtf8(unit.symbol.data(),
                                                            static_cast<qsizetype>(unit.symbol.size())));
            const QRectF figure =
                paint::text(p, {right, y}, Qt::AlignRight, value, 12, waits ? t.caution : t.ink, waits);
            paint::text_within(p, {x + 16, y}, figure.left() - x - 22, f.spec.label, 12, t.ink);
            places_.push_back({QRectF(x, y - line / 2, column - 20, line), path});
            y += line;
        }
    }
}

void MeasuringList::mousePressEvent(QMouseEvent* event) {
    for (const auto& [box, path] : places_)
        if (box.contains(event->position())) emit picked(path);
}

} // namespace dervish::app

#include "app/widgets/source_mark.h"

#include "app/widgets/number_edit.h"

#include <QMenu>
#include <QPainter>
#include <cmath>

namespace dervish::app {
namespace {
constexpr const char* source_words[] = {"measured", "quoted", "assumed"};

QString tr(const char* words) { return QObject::tr(words); }
} // namespace

void paint_source(QPainter& painter, const QRectF& box, job::Source source, const QColor& colour) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing, false);
    painter.setPen(QPen(colour, 1));
    painter.setBrush(Qt::NoBrush);
    if (source == job::Source::Measured) painter.setBrush(colour);
    painter.drawRect(box);
    if (source == job::Source::Quoted)
        painter.fillRect(QRectF(box.topLeft(), QSizeF(box.width() / 2, box.height())), colour);
    painter.restore();
}

QPixmap source_mark(job::Source source, const QColor& colour) {
    QPixmap out(10, 10);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    paint_source(painter, QRectF(0, 0, 9, 9), source, colour);
    return out;
}

QString source_word(job::Source source) { return tr(source_words[static_cast<std::size_t>(source)]); }

QString spread_text(const job::FieldSeen& field, units::System system) {
    const double spread = field.value->sigma / units::shown(field.spec.quantity, system).factor;
    const int decimals = spread < 0.1 ? 3 : spread < 1 ? 2 : spread < 10 ? 1 : 0;
    if (spread >= 10000) // a share says as much and is shorter
        return QString("± %1 %").arg(std::lround(100 * std::abs(field.value->sigma / field.value->value)));
    return spread > 0 ? "± " + QString::fromStdString(units::trimmed(spread, decimals)) : QString();
}

void ask_source(QWidget* parent, QPoint place, Document& document, const job::FieldSeen& field) {
    const QString path = QString::fromStdString(field.path);
    const units::Unit unit = units::shown(field.spec.quantity, document.units());
    QMenu menu(parent);
    for (int i = 0; i < 3; ++i) {
        const auto source = static_cast<job::Source>(i);
        const double usual = job::usual_sigma(field.spec, source, field.value->value) / unit.factor;
        QObject::connect(
            menu.addAction(
                tr("%1, ± %2 usual").arg(source_word(source), QString::fromStdString(units::trimmed(usual, 3)))),
            &QAction::triggered, parent, [&document, path, source] { document.set_source(path, source); });
    }
    menu.addSeparator();
    QObject::connect(menu.addAction(tr("another spread …")), &QAction::triggered, parent,
                     [&document, parent, path, spec = field.spec, now = field.value->sigma] {
                         const auto spread = ask_number(parent, document, tr("Spread of %1").arg(spec.label),
                                                        job::sigma_spec(spec), now);
                         if (spread) document.set_sigma(path, *spread);
                     });
    menu.exec(place);
}

} // namespace dervish::app

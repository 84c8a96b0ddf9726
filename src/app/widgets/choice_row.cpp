#include "app/widgets/choice_row.h"
#include "core/edit/edits.h"

#include "app/shell/theme.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QIcon>
#include <QLabel>
#include <QPainter>

namespace dervish::app {
namespace {
/// The axle from behind with the way its propshaft turns, and the wheel that it presses down.
QIcon propshaft_icon(bool clockwise) {
    QPixmap out(38, 22);
    out.fill(Qt::transparent);
    QPainter p(&out);
    p.setRenderHint(QPainter::Antialiasing);
    const QColor ink = theme().ink;
    p.setPen(QPen(ink, 1.4));
    p.drawLine(6, 11, 32, 11);
    for (const bool right : {false, true}) {
        const QRectF wheel(right ? 31 : 2, 3, 5, 16);
        p.fillRect(wheel, right == clockwise ? ink : theme().ground);
        p.drawRect(wheel);
    }
    p.setBrush(theme().ground);
    p.setPen(Qt::NoPen);
    p.drawEllipse(QPointF(19, 11), 8.5, 8.5);
    p.setPen(QPen(ink, 1.6));
    p.setBrush(Qt::NoBrush);
    p.drawArc(QRectF(12, 4, 14, 14), (clockwise ? 150 : 30) * 16, (clockwise ? -240 : 240) * 16);
    const QPointF end(19, 18); // where the arc ends, at the bottom
    const double back = clockwise ? 4 : -4;
    p.drawPolyline(QPolygonF{end + QPointF(back, -3.5), end, end + QPointF(back, 3.5)});
    return QIcon(out);
}
} // namespace

void bind_choice(QComboBox* box, Document& document, const QString& said, std::function<QString()> path) {
    QObject::connect(box, &QComboBox::activated, box, [&document, said, path = std::move(path)](int chosen) {
        document.edit(said, {}, [&](job::Job& job) { edit::choose(job, path().toStdString(), chosen); });
    });
}

ChoiceRow::ChoiceRow(Document& document, const job::ChoiceRef& choice, QWidget* parent)
    : QWidget(parent), path_(QString::fromStdString(choice.path)), box_(new QComboBox) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 2, 0, 2);
    line->setSpacing(5);
    auto* label = new QLabel(QString::fromStdString(choice.label));
    label->setWordWrap(true);
    label->setBuddy(box_);
    line->addWidget(label, 1);
    for (const std::string& word : choice.words) box_->addItem(QString::fromStdString(word).replace('_', ' '));
    if (path_.endsWith("/propshaft")) {
        box_->setIconSize({38, 22});
        for (int i = 0; i < 2; ++i) box_->setItemIcon(i, propshaft_icon(i == 0));
    }
    box_->setObjectName(path_);
    box_->setAccessibleName(QString::fromStdString(choice.label));
    box_->setFixedWidth(204); // as wide as a field with its unit and source
    line->addWidget(box_);
    bind_choice(box_, document, tr("choice of %1").arg(path_.section('/', -1).replace('_', ' ')),
                [this] { return path_; });
}

void ChoiceRow::refresh(const job::ChoiceRef& choice, bool writable) {
    box_->setCurrentIndex(choice.chosen);
    box_->setEnabled(writable);
}

} // namespace dervish::app

#include "app/widgets/measure_next.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"

#include "app/paint/pen.h"
#include "app/shell/draws_card.h"
#include "app/shell/theme.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <cmath>

namespace dervish::app {

MeasureNext::MeasureNext(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), name_(tr("roll gradient")) {
    setObjectName("measure next");
    setFocusPolicy(Qt::TabFocus);
    setFixedHeight(132);
    auto* draw = new QPushButton(tr("Draw cars …"));
    draw->setObjectName("draw cars");
    draw->setStyleSheet("padding: 0 8px;");
    draw->setFixedHeight(20);
    draw->setToolTip(
        tr("Checks the bands by computing thousands of cars, each with its numbers drawn from their spreads"));
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 0, 0, 0);
    line->addStretch();
    line->addWidget(draw, 0, Qt::AlignTop);
    connect(draw, &QPushButton::clicked, this, [this] { (new DrawsCard(document_, window()))->show(); });
    connect(&document_, &Document::changed, this, [this] { paint::update_below_children(this); });
    connect(&document_, &Document::bands_changed, this, [this] { paint::update_below_children(this); });
}

void MeasureNext::ask(study::Outcome outcome, const QString& name) {
    outcome_ = outcome;
    name_ = name;
    paint::update_below_children(this);
}

void MeasureNext::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    if (hasFocus()) {
        p.setPen(QPen(t.ink, 1));
        p.drawRect(rect().adjusted(0, 0, -1, -1));
    }
    paint::text(p, {0, 9}, Qt::AlignLeft, tr("Measure next"), 14, t.ink, true);
    paint::text(p, {0, 29}, Qt::AlignLeft, tr("what widens the band of the %1").arg(name_), 13, t.soft);
    if (!document_.bands()) {
        paint::text(p, {0, 50}, Qt::AlignLeft, tr("working it out …"), 13, t.soft);
        return;
    }
    double y = 48;
    const double room = width() - 40, bar = 0.30 * room, at = room - bar;
    for (const auto& [label, share] : sure::measure_next(*document_.bands(), outcome_, 4)) {
        paint::text_within(p, {0, y}, at - 6, QString::fromStdString(label), 13, t.ink);
        p.fillRect(QRectF(at, y - 5, std::max(1.0, bar * share), 10), t.soft);
        paint::text(p, {static_cast<double>(width()), y}, Qt::AlignRight,
                    QString::fromStdString(units::fixed(100 * share, 0)) + " %", 13, t.ink);
        y += 21;
    }
}

} // namespace dervish::app

#pragma once
#include "app/shell/theme.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QScrollArea>
#include <QVBoxLayout>
#include <QWidget>

namespace dervish::app {

/// Rows under each other that scroll when there is no room for all of them; by the arrows too.
inline QScrollArea* scrolled(QWidget* rows) {
    auto* out = new QScrollArea;
    out->setStyleSheet("background: " + theme().ground.name());
    out->setWidgetResizable(true);
    out->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    out->setFocusPolicy(Qt::StrongFocus);
    out->setWidget(rows);
    return out;
}

/// The common layout: drawing over second reading, the numbers under the hand to the right. Returns the column that the
/// numbers go into.
inline QVBoxLayout* lay_station(QWidget* station, QWidget* drawing, QWidget* reading, int reading_height) {
    auto* line = new QHBoxLayout(station);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(0);
    auto* left = new QVBoxLayout;
    left->setSpacing(0);
    left->addWidget(drawing, 1);
    reading->setFixedHeight(reading_height);
    left->addWidget(reading);
    line->addLayout(left, 1);
    auto* scroll = new QScrollArea;
    scroll->setObjectName("panel");
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFixedWidth(366);
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(16, 12, 12, 12);
    column->setSpacing(4);
    scroll->setWidget(side);
    line->addWidget(scroll);
    return column;
}

} // namespace dervish::app

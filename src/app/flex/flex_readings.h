#pragma once
#include "app/flex/flex_sums.h"

#include <QWidget>

namespace dervish::app {

/// Every state as a small picture of its wheels' travels, on one scale; the chosen one framed.
class StatesReading : public QWidget {
    Q_OBJECT

public:
    StatesReading(Document& document, FlexSums& sums, QWidget* parent = nullptr);
    QRectF card(std::size_t state) const;
    int columns() const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    void paint_card(QPainter& p, std::size_t state, double most) const;
    Document& document_;
    FlexSums& sums_;
};

/// Each state's whole travel over how much it leans on the road; the chosen one filled.
class TradeReading : public QWidget {
    Q_OBJECT

public:
    TradeReading(Document& document, FlexSums& sums, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    FlexSums& sums_;
};

} // namespace dervish::app

#pragma once
#include "app/balance/balance_readings.h"

namespace dervish::app {

/// What the ground does to people and wheels, and how the car goes over its limit there; Fitted beside it.
class RideReading : public QWidget {
    Q_OBJECT

public:
    RideReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_comfort(QPainter& p, const QRectF& room) const;
    void paint_tones(QPainter& p, const QRectF& room) const;
    void paint_swings(QPainter& p, const QRectF& room) const;
    double swing(std::size_t wheel) const; ///< spread of its load over it
    void paint_edge(QPainter& p, const QRectF& room) const;
    Document& document_;
    BalanceSums& sums_;
};

} // namespace dervish::app

#pragma once
#include "app/balance/balance_readings.h"

namespace dervish::app {

/// What one wheel over a bump feels of springs and bar at each axle, and how a kerb under one side rocks the car and
/// tosses heads, in time, with and without each bar; Fitted dashed.
class BumpReading : public QWidget {
    Q_OBJECT

public:
    BumpReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void mark(double time); ///< of the kerb's run, s; below 0: none

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_wheel(QPainter& p, const QRectF& room, End end, double most) const;
    void paint_kerb(QPainter& p, const QRectF& room) const;
    Document& document_;
    BalanceSums& sums_;
    double marked_ = -1;
};

} // namespace dervish::app

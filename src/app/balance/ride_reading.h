#pragma once
#include "app/balance/balance_readings.h"
#include "core/sure/draws.h"

namespace dervish::app {

/// What the ground does to people and wheels, and how the car goes over its limit there; Fitted beside it.
class RideReading : public QWidget {
    Q_OBJECT

public:
    RideReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void finish(); ///< waits for it: pictures and tests

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void work_out();
    void paint_comfort(QPainter& p, const QRectF& room) const;
    void paint_tones(QPainter& p, const QRectF& room) const;
    void paint_swings(QPainter& p, const QRectF& room) const;
    double swing(std::size_t wheel) const; ///< spread of its load over it
    void paint_edge(QPainter& p, const QRectF& room) const;
    Document& document_;
    BalanceSums& sums_;
    int drawn_ = 0; ///< the sums' edition that the drawn cars are of
    struct Drawn {
        int edition;
        sure::GoesOver now;
        std::optional<sure::GoesOver> fitted;
    };
    Late<Drawn> edge_; ///< last: it ends before what it posts to
};

} // namespace dervish::app

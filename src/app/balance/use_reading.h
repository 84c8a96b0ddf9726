#pragma once
#include "app/balance/balance_readings.h"
#include "core/study/use.h"

namespace dervish::app {

/// Where the car stands in what its use wants, Fitted beside it; and the bars that suit harder and stickier tyres.
class UseReading : public QWidget {
    Q_OBJECT

public:
    UseReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void finish(); ///< waits for it: pictures and tests

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Uses {
        study::UseFigures now;
        std::optional<study::UseFigures> fitted;
        std::vector<study::Match> match;
        std::optional<sure::PairBand> pair{}; ///< of what is found for the tyres as they are
    };
    void work_out();
    void paint_scales(QPainter& p, const QRectF& room) const;
    void paint_match(QPainter& p, const QRectF& room) const;
    Document& document_;
    BalanceSums& sums_;
    int done_ = 0; ///< the sums' edition that they are of
    Late<Uses> uses_;
};

} // namespace dervish::app

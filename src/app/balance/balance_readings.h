#pragma once
#include "app/document.h"
#include "app/late.h"
#include "app/paint/axes.h"
#include "core/study/balance.h"
#include "core/sure/compare.h"

#include <QWidget>

namespace dervish::app {

/// The steady answers of both setups on one ground, worked out after the last change while someone looks; bands of the
/// limit follow, and then the bars'.
class BalanceSums : public QObject {
    Q_OBJECT

public:
    explicit BalanceSums(Document& document, QObject* parent);
    void set_ground(Ground ground);
    Ground ground() const { return ground_; }
    void ask(); ///< has the figures brought up to date; changed() tells when they are
    const study::BalanceFigures* now() const { return both_.value() ? &both_.value()->now : nullptr; }
    const study::BalanceFigures* fitted() const {
        return now() && both_.value()->fitted ? &*both_.value()->fitted : nullptr;
    }
    const sure::Bands* bands() const { return bands_ ? &*bands_ : nullptr; } ///< of the limit and the balance there
    const std::array<sure::PhaseBand, 4>* phases() const { return phases_ ? &*phases_ : nullptr; } ///< they come next
    /// How a kerb rocks both setups; it comes with the bands.
    const std::optional<study::Rocking>& rocking(bool fitted) const { return fitted ? rocked_ : rocking_; }
    /// The best of each bar that acts, with its band; it comes after them.
    const std::optional<sure::BestBarBand>& best(End end) const { return best_[index(end)]; }
    /// What Trial changes against Fitted: of sure::LimitAnswer, with the bands; of sure::SteadyAnswer, the last.
    const std::vector<sure::Change>& limit_change() const { return limit_change_; }
    const std::vector<sure::Change>& steady_change() const { return steady_change_; }
    int edition() const { return edition_; } ///< goes up with each set of figures
    void finish();                           ///< waits for all of it: pictures and tests

signals:
    void changed();

private:
    struct Both {
        study::BalanceFigures now;
        std::optional<study::BalanceFigures> fitted;
    };
    void forget();
    Document& document_;
    Ground ground_ = Ground::Dry;
    bool stale_ = true;
    int edition_ = 0;
    std::optional<sure::Bands> bands_;
    std::optional<std::array<sure::PhaseBand, 4>> phases_;
    std::vector<sure::Change> limit_change_, steady_change_; ///< empty: none yet, or Fitted is looked at
    std::optional<study::Rocking> rocking_, rocked_;
    std::array<std::optional<sure::BestBarBand>, 2> best_;
    Late<Both> both_; ///< last: it ends before what it posts to
};

/// "+0.01 ± 0.02", in a unit of so many SI.
QString change_words(const sure::Change& change, double unit, int decimals);

/// A beam that tips to the end that gives up first, its sentence, and the handling curve with Fitted and the band.
class CurveReading : public QWidget {
    Q_OBJECT

public:
    CurveReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void set_turn(double lateral);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_beam(QPainter& p, const QRectF& room);
    void paint_curve(QPainter& p, const QRectF& room);
    Document& document_;
    BalanceSums& sums_;
    double lateral_ = 0.4 * units::g;
};

/// The outright limit and the lean at it, each bar from none to rigid, and the best of each with its band.
class BarsReading : public QWidget {
    Q_OBJECT

public:
    BarsReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void finish(); ///< waits for it: pictures and tests

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void work_out();
    void paint_whiskers(QPainter& p, const paint::Axes& at) const;
    double paint_words(QPainter& p, const QRectF& room, End end) const; ///< where they end
    Document& document_;
    BalanceSums& sums_;
    int swept_ = 0;                                           ///< the sums' edition that the sweeps are of
    Late<std::array<std::vector<study::BarPoint>, 2>> sweep_; ///< last: it ends before what it posts to
};

/// A beam that tips to the end that gives up first (front low: it does); `off`: study::balance_of().
void paint_balance_beam(QPainter& p, QPointF middle, double half, double off, double size);

/// What stands where figures have not come yet.
void paint_waiting(QPainter& p);

/// Who gives up first braking, under power and with the throttle lifted, and where.
QString phases_of(const BalanceSums& sums);

} // namespace dervish::app

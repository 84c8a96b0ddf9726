#pragma once
#include "app/document.h"
#include "app/late.h"
#include "core/study/balance.h"
#include "core/sure/bands.h"

#include <QWidget>

namespace dervish::app {

/// The steady answers of both setups on one ground, worked out after the last change while someone looks; bands of the
/// limit follow.
class BalanceSums : public QObject {
    Q_OBJECT

public:
    explicit BalanceSums(Document& document, QObject* parent);
    void set_ground(balance::Ground ground);
    balance::Ground ground() const { return ground_; }
    void ask(); ///< has the figures brought up to date; changed() tells when they are
    const study::BalanceFigures* now() const { return both_.value() ? &both_.value()->now : nullptr; }
    const study::BalanceFigures* fitted() const {
        return now() && both_.value()->fitted ? &*both_.value()->fitted : nullptr;
    }
    const sure::Bands* bands() const { return bands_ ? &*bands_ : nullptr; } ///< of the limit and the balance there
    int edition() const { return edition_; }                                 ///< goes up with each set of figures
    void finish(); ///< waits for figures and bands: pictures and tests

signals:
    void changed();

private:
    struct Both {
        study::BalanceFigures now;
        std::optional<study::BalanceFigures> fitted;
    };
    void forget();
    Document& document_;
    balance::Ground ground_ = balance::Ground::Dry;
    bool stale_ = true;
    int edition_ = 0;
    std::optional<sure::Bands> bands_;
    Late<Both> both_; ///< last: it ends before what it posts to
};

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

/// The outright limit and the lean at it, each bar from none to rigid.
class BarsReading : public QWidget {
    Q_OBJECT

public:
    BarsReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void finish(); ///< waits for it: pictures and tests

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void work_out();
    Document& document_;
    BalanceSums& sums_;
    int swept_ = 0; ///< the sums' edition that the sweeps are of
    Late<std::array<std::vector<study::BarPoint>, 2>> sweep_;
};

/// A manoeuvre over time: lean, lateral acceleration and the lightest wheel, Fitted dashed, and what they come to.
class ManoeuvreReading : public QWidget {
    Q_OBJECT

public:
    ManoeuvreReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void set_drive(const balance::Drive& drive);
    const balance::Drive& drive() const { return drive_; }
    const balance::Run* run(); ///< none before the first has come
    void finish();             ///< waits for it: pictures and tests
    void mark(double time);    ///< the moment played; below 0: none

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Runs {
        balance::Run now;
        std::optional<balance::Run> fitted;
    };
    void work_out();
    void paint_lines(QPainter& p, const QRectF& room, const QString& title, double unit,
                     const std::function<double(const balance::Moment&)>& value);
    Document& document_;
    BalanceSums& sums_;
    balance::Drive drive_{balance::Manoeuvre::LaneChange, 20, 0.4 * units::g};
    double marked_ = -1;
    int driven_ = 0; ///< the sums' edition that the runs are of
    Late<Runs> runs_;
};

} // namespace dervish::app

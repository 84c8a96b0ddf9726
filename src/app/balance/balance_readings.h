#pragma once
#include "app/document.h"
#include "app/worker.h"
#include "core/job/balance.h"

#include <QWidget>

namespace dervish::app {

/// The steady answers of both setups on one ground, worked out a blink after the last change while someone looks; bands
/// of the limit follow from a worker.
class BalanceSums : public QObject {
    Q_OBJECT

public:
    explicit BalanceSums(Document& document, QObject* parent);
    void set_ground(balance::Ground ground);
    balance::Ground ground() const { return ground_; }
    void ask(); ///< brings the figures up to date now
    const job::BalanceFigures* now() const { return now_ ? &*now_ : nullptr; }
    const job::BalanceFigures* fitted() const { return fitted_ ? &*fitted_ : nullptr; }
    const job::Bands* bands() const { return bands_ ? &*bands_ : nullptr; } ///< of the limit and the balance there
    void finish_bands();                                                    ///< waits for them: pictures and tests

signals:
    void changed();

private:
    void start_bands();
    Document& document_;
    balance::Ground ground_ = balance::Ground::Dry;
    bool stale_ = true;
    std::optional<job::BalanceFigures> now_, fitted_;
    std::optional<job::Bands> bands_;
    Worker worker_{this}; ///< last: it ends before what it posts to
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

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    BalanceSums& sums_;
    std::array<std::vector<job::BarPoint>, 2> sweep_;
    bool stale_ = true;
};

/// A manoeuvre over time: lean, lateral acceleration and the lightest wheel, Fitted dashed, and what they come to.
class ManoeuvreReading : public QWidget {
    Q_OBJECT

public:
    ManoeuvreReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void set_drive(const balance::Drive& drive);
    const balance::Drive& drive() const { return drive_; }
    const balance::Run& run();
    void mark(double time); ///< the moment played; below 0: none

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void work_out();
    void paint_lines(QPainter& p, const QRectF& room, const QString& title, double unit,
                     const std::function<double(const balance::Moment&)>& value);
    Document& document_;
    BalanceSums& sums_;
    balance::Drive drive_{balance::Manoeuvre::LaneChange, 20, 0.4 * units::g};
    std::optional<balance::Run> now_, fitted_;
    double marked_ = -1;
    bool stale_ = true;
};

} // namespace dervish::app

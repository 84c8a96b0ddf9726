#pragma once
#include "app/document.h"
#include "core/study/assess.h"
#include "core/study/choices.h"

#include <QWidget>

namespace dervish::app {

/// Force in the link over wheel travel at large travel, in roll and with one side moved, beside the straight line of
/// small travel; where it yields, where it ends, play, friction and the link's load.
class TravelReading : public QWidget {
    Q_OBJECT

public:
    explicit TravelReading(Document& document, QWidget* parent = nullptr);
    void show_axle(End end);
    /// The curves as a table: wheel travel, link forces, eye travel, stress, and the loop of play and friction.
    std::string csv();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    const job::AxleSetup& assembly() const;
    const job::AxleData& axle() const;
    void showEvent(QShowEvent*) override;
    void take_up(); ///< brings the curves up to date, when seen
    void work_out();
    bool current() const; ///< false without a bar that has any
    void paint_chart(class QPainter& p, const QRectF& room);
    void paint_words(class QPainter& p, const QRectF& room, const study::BarFigures& figures);

    Document& document_;
    End end_ = End::Front;
    job::Assembly curve_of_;
    job::AxleData curve_on_;
    std::optional<study::TravelCurve> curve_;
    study::Hysteresis loop_{};
};

/// Wheel travel up to which the curves go, m.
inline constexpr double shown_travel = 0.08;

} // namespace dervish::app

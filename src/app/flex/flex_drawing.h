#pragma once
#include "app/flex/flex_sums.h"
#include "core/flex/scene.h"
#include "core/study/flex.h"

#include <QWidget>

namespace dervish::app {

/// The car on its ramps in three-quarter view, to scale: wheels, axles, bars and springs where the equilibrium has them
/// at the scrubbed reach. Dragged sideways it turns. Gauges tell each wheel's travel between its stops.
class FlexDrawing : public QWidget {
    Q_OBJECT

public:
    FlexDrawing(Document& document, FlexSums& sums, QWidget* parent = nullptr);
    void set_reach(double reach);
    double reach() const { return reach_; }
    const PerWheel<study::Corner>& corner(); ///< at the reach

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

private:
    void take_up();
    void take_up_anew(); ///< at another reach, of other sums
    void showEvent(QShowEvent*) override;
    void fit();
    QPointF at(const Eigen::Vector3d& point) const;
    double depth(const Eigen::Vector3d& point) const;
    void paint_ground(QPainter& p);
    void paint_block(QPainter& p, std::size_t wheel);
    void paint_body(QPainter& p);
    void paint_axle(QPainter& p, std::size_t end);
    void paint_wheel(QPainter& p, std::size_t wheel);
    void paint_ghost(QPainter& p);
    QPolygonF disc(const flex::WheelPlace& wheel, double offset, double radius) const;
    void paint_labels(QPainter& p);
    void paint_gauges(QPainter& p);

    Document& document_;
    FlexSums& sums_;
    double reach_ = 0;
    bool stale_ = true;
    std::optional<car::Car> car_;
    car::State state_;
    car::Situation ground_;
    flex::Scene scene_;
    std::optional<flex::Scene> ghost_; ///< Fitted on the same ground
    PerWheel<study::Corner> corner_;
    double azimuth_ = 2.62, scale_ = 100;
    QPointF origin_, pressed_;
    double turned_from_ = 0;
};

} // namespace dervish::app

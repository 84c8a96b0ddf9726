#pragma once
#include "app/document.h"

#include <QWidget>

namespace dervish::app {

/// The car in side elevation and plan, both to one scale: wheels, axles as what they are, corner loads, centre of mass,
/// roll axis, and the loads as blocks that can be dragged.
class CarDrawing : public QWidget {
    Q_OBJECT

public:
    explicit CarDrawing(Document& document, QWidget* parent = nullptr);
    /// Where a load's block stands: for tests and the mouse.
    QPointF side_place(const job::Load& load) const;
    QPointF plan_place(const job::Load& load) const;

signals:
    void part_picked(const QString& path); ///< "vehicle/loads/1", "vehicle/front", "vehicle"

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void fit_scale();
    QPointF side(double x, double z) const; ///< x from the front axle, forwards
    QPointF plan(double x, double y) const;
    /// How far a setup has the body there higher over the ground than it was measured, m; x as in side().
    double rise(double x, const job::Setup& setup) const;
    double block(const job::Load& load) const;
    void paint_side(QPainter& p);
    void paint_plan(QPainter& p);
    void paint_loads(QPainter& p);
    void paint_load_names(QPainter& p, const std::vector<job::Load>& loads);
    void paint_axle_plan(QPainter& p, End end);

    Document& document_;
    car::State level_; ///< on level ground
    double scale_ = 80;
    QPointF side_origin_, plan_origin_;
    std::vector<QRectF> written_; ///< figures, which others keep clear of
    int dragged_ = -1;
    bool in_plan_ = false;
    QPointF grip_;
};

} // namespace dervish::app

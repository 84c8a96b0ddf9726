#pragma once
#include "app/document.h"
#include "core/study/balance.h"

#include <QPolygonF>
#include <QWidget>

namespace dervish::app {

/// Outline of the body from behind, m: across, up from the ground. For orientation only.
QPolygonF body_from_behind(const job::Vehicle& vehicle);

/// The car from behind, leaning to scale in a left-hand bend, and what each tyre carries and has spent: the patch's
/// area is its load, its filling the grip used. Fitted's lean dashed. The centre of mass is dragged sideways for
/// another bend.
class BalanceDrawing : public QWidget {
    Q_OBJECT

public:
    explicit BalanceDrawing(Document& document, QWidget* parent = nullptr);
    void set_turn(double lateral, Ground ground); ///< m/s²
    double lateral() const { return lateral_; }
    Ground ground() const { return ground_; }
    /// Plays a manoeuvre's moment in place of the steady bend; nothing: the bend again.
    /// A moment of a run in place of the bend; `what`: in words, where it is not steered.
    void show_moment(const std::optional<balance::Moment>& moment, const QString& what = {});
    QPointF mass_handle() const { return handle_; } ///< as last painted

signals:
    void scrubbed(double lateral);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    void take_up();
    void paint_car(QPainter& p, const QRectF& room);
    void paint_body(QPainter& p, double lean, bool ghost);
    void paint_patches(QPainter& p, const QRectF& room);
    QPointF at(double y, double z) const;

    Document& document_;
    QString none_; ///< why the car has no figures at all; empty: it has
    double lateral_ = 0.4 * units::g;
    Ground ground_ = Ground::Dry;
    std::optional<balance::Model> model_;
    std::optional<balance::Corner> now_, fitted_;
    std::optional<balance::Moment> moment_;
    QString what_;
    QPointF origin_, handle_, pressed_;
    double scale_ = 100, dragged_from_ = 0;
    bool dragging_ = false;
};

} // namespace dervish::app

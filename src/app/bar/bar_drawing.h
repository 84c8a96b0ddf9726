#pragma once
#include "app/document.h"
#include "app/paint/pen.h"
#include "core/study/assess.h"

#include <QWidget>

namespace dervish::app {

/// One bar in three-quarter view, to scale, twisted by the body's roll with nothing taken as small; Fitted as a dashed
/// ghost. Parts can be picked, pointed at for their figures, eyes clicked, the diameter dragged, the view turned.
class BarDrawing : public QWidget {
    Q_OBJECT

public:
    explicit BarDrawing(Document& document, QWidget* parent = nullptr);
    ~BarDrawing() override;
    void show_axle(End end);
    End end() const { return end_; }
    void set_roll(double radians); ///< of the body, right side down
    double roll() const { return roll_; }
    QPointF diameter_handle() const { return handle_; }
    std::vector<QPointF> eye_places(bool left) const; ///< as last painted, outermost first
    QPointF part_place(const QString& what) const;    ///< of a "mount", "link", "bar", as last painted
    /// What is known of the part at a place, with units and bands; empty beside the bar.
    QString readout(QPointF at) const;

signals:
    void part_picked(const QString& group); ///< "bar", "mounts", "links"

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    struct Shape;
    Shape lay_out(const job::AxleSetup& assembly, const study::BarFigures& figures, double longest) const;
    /// The fitted bar's shape, laid out again only when it or the roll changes.
    void showEvent(QShowEvent*) override;
    void take_up(); ///< lays the bar and its ghost out, when seen
    QPointF on_paper(const Eigen::Vector3d& place) const;
    void fit_scale(const Shape& shape, const Shape* ghost);
    void paint_bar(QPainter& p, const Shape& shape);
    void paint_ghost(QPainter& p, const Shape& shape);
    void label_weakest(QPainter& p, paint::Labels& labels, const Shape& shape, const study::BarFigures& figures);
    void paint_labels(QPainter& p, const Shape& shape, const study::BarFigures& figures);
    void paint_waiting(QPainter& p);
    void paint_heading(QPainter& p, const study::BarFigures* figures);
    const job::AxleSetup& assembly() const;
    const std::optional<study::BarFigures>& figures(bool fitted) const;

    Document& document_;
    End end_ = End::Front;
    double roll_, yaw_ = 0.48, tilt_ = 0.46;
    double scale_ = 500;
    QPointF middle_;
    Eigen::Vector3d focus_ = Eigen::Vector3d::Zero();
    QPointF handle_;
    struct Spot {
        QPointF place;
        QString what;
        int index;
    };
    std::vector<Spot> spots_;
    enum class Drag { None, View, Diameter } drag_ = Drag::None;
    QPointF pressed_;
    double dragged_from_ = 0, tilted_from_ = 0;
    struct Inside {
        QPointF place;
        double along, stress; ///< m from the left end, Pa
    };
    std::unique_ptr<Shape> shape_, ghost_;
    job::Assembly ghost_of_;
    double ghost_roll_ = 0;
    job::AxleData ghost_on_;
    std::vector<Inside> line_; ///< as last painted
    Eigen::Vector2d link_force_ = Eigen::Vector2d::Zero();
};

} // namespace dervish::app

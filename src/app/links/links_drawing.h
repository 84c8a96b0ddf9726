#pragma once
#include "app/document.h"
#include "app/paint/pen.h"
#include "core/study/links.h"

#include <QWidget>

namespace dervish::app {

/// One end of a bar to scale, twice: seen along the bar's axis, and from behind. The wheel is scrubbed, the link's
/// handle dragged for another length; the dead line's sector is hatched, gaps are drawn where they are least. Fitted as
/// a dashed ghost.
class LinksDrawing : public QWidget {
    Q_OBJECT

public:
    explicit LinksDrawing(Document& document, QWidget* parent = nullptr);

    void show_end(End end, std::size_t side); ///< 0 left, 1 right
    End end() const { return end_; }
    std::size_t side() const { return side_; }
    void set_travel(linkage::Mode mode, double own, double steer); ///< of this end's wheel, m; steering, rad left
    linkage::Mode mode() const { return mode_; }
    double own() const { return own_; }

    /// The looked-at end; nothing without a bar held by links.
    const std::optional<PerSide<study::LinkSide>>& sides() const { return sides_; }
    QPointF link_handle() const { return handle_; } ///< as last painted
    QPointF wheel_handle() const { return pickup_; }

signals:
    void scrubbed(double own); ///< the pick-up was dragged to this travel

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    enum class View { Along, Behind };
    struct Panel {
        View view;
        QRectF room;
        QPointF origin;
        double scale;
        QPointF operator()(const Eigen::Vector3d& p) const;
    };
    void take_up();
    const job::AxleSetup& assembly(Look look) const;
    const job::AxleData& axle() const;
    linkage::Travel travel() const { return travel_at(own_); }
    linkage::Travel travel_at(double own) const;
    PerSide<Panel> panels() const;
    void paint_panel(QPainter& p, const Panel& panel, const study::LinkSide& s, const linkage::Position& at,
                     bool closed);
    std::vector<QRectF> names_; ///< of wheels, which labels keep clear of
    void paint_around(QPainter& p, const Panel& panel, const study::LinkSide& s);
    void paint_dead_line(QPainter& p, const Panel& panel, const study::LinkSide& s, const linkage::Position& at);
    void paint_bar(QPainter& p, const Panel& panel, const study::LinkSide& s, const linkage::Position& at);
    void paint_ghost(QPainter& p, const Panel& panel);
    void paint_gaps(QPainter& p, const Panel& panel, paint::Labels& labels, const study::LinkSide& s,
                    const linkage::Position& at);
    void paint_heading(QPainter& p, const study::LinkSide& s, const linkage::Position* at);
    QString turns(double by) const;
    void drag_link(QPointF to);

    Document& document_;
    End end_ = End::Front;
    std::size_t side_ = 0;
    linkage::Mode mode_ = linkage::Mode::Roll;
    double own_ = 0, steer_ = 0;
    std::optional<PerSide<study::LinkSide>> sides_, fitted_;
    QString problem_;
    QPointF handle_, pickup_, link_way_; ///< way: on paper, from eye to pick-up, of length 1
    enum class Drag { None, Link, Wheel } drag_ = Drag::None;
    QPointF pressed_;
    double dragged_from_ = 0;
};

} // namespace dervish::app

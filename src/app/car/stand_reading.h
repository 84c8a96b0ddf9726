#pragma once
#include "app/document.h"
#include "core/model/stand.h"

#include <QWidget>

namespace dervish::app {

/// How each axle stands: its ride height, drawn with what moves along with it (height of mass, roll centre, the bar's
/// arm, what is left to the stops), and its dampers' clicks. Drag the body for another height, or the arrows: up and
/// down by a millimetre, left and right for the other axle. Click a mark for another click.
class StandReading : public QWidget {
    Q_OBJECT

public:
    explicit StandReading(Document& document, QWidget* parent = nullptr);
    QRectF body(End end) const { return seen_[end].body; } ///< where it is dragged by: for tests and the mouse
    QPointF click(End end, bool rebound, int n) const;     ///< the mark of the n-th click from fully open

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }

private:
    /// An axle as it stands with one of the setups.
    struct Stands {
        job::AxleSetup setup;
        double hub, body;         ///< heights over the ground, m; the body's where the bar is mounted
        double mass, roll_centre; ///< heights, m
        std::optional<model::StopGaps> gaps;
        std::optional<double> attitude; ///< of the bar's arm, rad, eye up positive
    };
    struct Clicks {
        QString name;
        const job::Measured &all, &used;
        const char* key;
    };
    struct Seen {
        QRectF body;
        double clicks_left = 0, clicks_top = 0;
        double pitch[2] = {}; ///< between the marks of two clicks, bump and rebound; px
    };
    Stands stands(End end, Look look) const;
    static std::array<Clicks, 2> clicks_of(const job::AxleSetup& setup);
    void refresh();
    void paint_axle(QPainter& p, const QRectF& room, End end);
    void paint_picture(QPainter& p, const QRectF& room, End end);
    void paint_stops(QPainter& p, const QRectF& room, End end) const;
    void paint_figures(QPainter& p, const QRectF& room, End end) const;
    void paint_clicks(QPainter& p, const QRectF& room, End end);
    QString path(End end, const char* key) const; ///< of a number of how the axle stands
    void raise(End end, double to);               ///< m
    QString length(double m) const;

    Document& document_;
    PerAxle<std::optional<Stands>> now_, before_;
    PerAxle<Seen> seen_;
    double scale_ = 100; ///< px a metre
    End at_ = End::Front;
    std::optional<double> dragged_from_; ///< lift where the drag began
    double pressed_ = 0;                 ///< px
};

} // namespace dervish::app

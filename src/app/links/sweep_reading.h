#pragma once
#include "app/document.h"
#include "core/study/links.h"

#include <QWidget>

namespace dervish::app {

/// Four curves over the wheel's travel between its stops: off square with its zones, the arm's attitude, motion ratio,
/// the bar's force. Fitted dashed; the place of the drawing marked.
class SweepReading : public QWidget {
    Q_OBJECT

public:
    explicit SweepReading(Document& document, QWidget* parent = nullptr);
    void show_end(End end, std::size_t side);
    void set_travel(linkage::Mode mode, double own);
    /// The curves as a table with a heading line.
    std::string csv();

protected:
    void paintEvent(QPaintEvent*) override;

private:
    using Points = std::vector<study::LinkPoint>;
    struct Curve {
        QString title;
        std::function<double(const study::LinkPoint&)> value;
        units::Quantity quantity;
        bool from_zero;
    };
    void work_out();
    Points points_of(Look look) const;
    void paint_curve(QPainter& p, const QRectF& room, const Curve& curve);

    Document& document_;
    End end_ = End::Front;
    bool stale_ = true;
    std::size_t side_ = 0;
    linkage::Mode mode_ = linkage::Mode::Roll;
    double own_ = 0, droop_ = 0, bump_ = 0, contact_ = 0;
    Points now_, fitted_;
};

} // namespace dervish::app

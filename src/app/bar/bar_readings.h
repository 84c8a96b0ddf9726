#pragma once
#include "app/document.h"
#include "core/study/assess.h"

#include <QWidget>

namespace dervish::app {

/// Below the bar: where its stiffness goes, the ladder of its eyes, and the hand formulas beside the full sum.
class BarReadings : public QWidget {
    Q_OBJECT

public:
    explicit BarReadings(Document& document, QWidget* parent = nullptr);
    void show_axle(End end);
    /// The figures with bands of the ladder's cell or the ledger's part at a place; empty elsewhere.
    QString readout(QPointF at) const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;

private:
    void paint_ledger(QPainter& p, const QRectF& room, const study::BarFigures& figures);
    void paint_ladder(QPainter& p, const QRectF& room);
    void paint_formulas(QPainter& p, const QRectF& room, const study::BarFigures& figures);
    const job::AxleSetup& assembly() const;

    Document& document_;
    End end_ = End::Front;
    std::vector<std::pair<QRectF, std::pair<int, int>>> cells_;
    std::vector<QRectF> shares_; ///< of the ledger's parts, as last painted
    void showEvent(QShowEvent*) override;
    void take_up(); ///< works the ladder out, when seen
    job::AxleSetup ladder_of_;
    job::AxleData ladder_on_;
    std::vector<std::vector<double>> ladder_;
};

} // namespace dervish::app

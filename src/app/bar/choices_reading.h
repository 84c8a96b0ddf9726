#pragma once
#include "app/document.h"
#include "core/study/choices.h"

#include <QWidget>

namespace dervish::app {

/// What small changes of the bar are worth, tubes of the same rate, and what the stock has nearest. Click a tube or a
/// stock size to try it.
class ChoicesReading : public QWidget {
    Q_OBJECT

public:
    explicit ChoicesReading(Document& document, QWidget* parent = nullptr);
    void show_axle(End end);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

private:
    const job::AxleSetup& assembly() const;
    void showEvent(QShowEvent*) override;
    void take_up(); ///< works out what is painted, when seen
    void edit_stock();
    QString now_words(double now) const; ///< the rate that changes start from, with its band
    void paint_worths(class QPainter& p, const QRectF& room, double now);
    void paint_substitutes(class QPainter& p, const QRectF& room, const QString& title, const QString& below,
                           const std::vector<study::Substitute>& list, double now, double mass);

    Document& document_;
    End end_ = End::Front;
    job::Assembly of_;
    std::vector<job::StockSize> stock_of_;
    job::AxleData on_;
    units::System worths_in_ = units::System::Metric;
    std::vector<study::Worth> worths_;
    std::vector<study::Substitute> tubes_, stock_;
    std::vector<std::pair<QRectF, study::Substitute>> places_;
    QRectF stock_title_;
};

} // namespace dervish::app

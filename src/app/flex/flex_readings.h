#pragma once
#include "app/flex/flex_sums.h"

#include <QWidget>

namespace dervish::app {

/// Every state as a small picture, on one scale; the chosen one framed: its wheels' travels where a wheel of its own
/// goes light; or, `at_one_height`, what each wheel carries where the ground is as high as is looked at, and how it
/// leans.
class StatesReading : public QWidget {
    Q_OBJECT

public:
    StatesReading(Document& document, FlexSums& sums, bool at_one_height, QWidget* parent = nullptr);
    void set_reach(double reach); ///< m or rad, at one height
    const std::vector<car::State>& at_reach() const { return at_; }
    QRectF card(std::size_t state) const;
    int columns() const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void showEvent(QShowEvent*) override;
    void resizeEvent(QResizeEvent*) override { lay(); }

private:
    struct Column { ///< of a wheel
        double value;
        QString words;
        bool hatched, hangs = false;
    };
    void take_up();
    void lay(); ///< as high as all of them need
    QString head(std::size_t state) const;
    PerWheel<Column> columns_of(std::size_t state) const;
    void paint_card(QPainter& p, std::size_t state, double most) const;
    bool at_one_height_, stale_ = true;
    double reach_ = 0;
    std::vector<car::State> at_; ///< each state there
    Document& document_;
    FlexSums& sums_;
};

/// Each state's whole travel over how much it leans on the road; the chosen one filled.
class TradeReading : public QWidget {
    Q_OBJECT

public:
    TradeReading(Document& document, FlexSums& sums, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    FlexSums& sums_;
};

} // namespace dervish::app

#pragma once
#include "app/prove/test_sums.h"

#include <QWidget>

namespace dervish::app {

/// The plan of a test: what is done in which order, and whether it can answer its question.
class PlanDrawing : public QWidget {
    Q_OBJECT

public:
    PlanDrawing(Document& document, TestSums& sums, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double paint_steps(QPainter& p, double y) const;
    double paint_order(QPainter& p, double y) const;
    void paint_power(QPainter& p, double y) const;
    Document& document_;
    TestSums& sums_;
};

/// What people felt on each scale, by letter, and how far they go with each other and with the sum.
class PeopleDrawing : public QWidget {
    Q_OBJECT

public:
    PeopleDrawing(Document& document, TestSums& sums, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    TestSums& sums_;
};

} // namespace dervish::app

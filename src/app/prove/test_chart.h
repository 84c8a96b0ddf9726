#pragma once
#include "app/document.h"

#include <QWidget>

namespace dervish::app {

/// One ramp test: the frozen prediction with its band, the guess, the readings, and the verdict in words.
class TestChart : public QWidget {
    Q_OBJECT

public:
    explicit TestChart(Document& document, QWidget* parent = nullptr);
    void show_test(int index);
    /// The verdict as it stands in the picture.
    QString verdict() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    const job::PlannedTest* test() const;
    void paint_scale(QPainter& p, const QRectF& room, const job::RampTest& t);

    Document& document_;
    int index_ = 0;
};

/// The four wheels' travels, predicted and read.
class TravelGauges : public QWidget {
    Q_OBJECT

public:
    explicit TravelGauges(Document& document, QWidget* parent = nullptr);
    void show_test(int index);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    int index_ = 0;
};

} // namespace dervish::app

#pragma once
#include "app/document.h"

#include <QWidget>

namespace dervish::app {

/// Which guess widens the band of an outcome most: bars of its share of the variance.
class MeasureNext : public QWidget {
    Q_OBJECT

public:
    explicit MeasureNext(Document& document, QWidget* parent = nullptr);
    void ask(job::Outcome outcome, const QString& name);
    QSize sizeHint() const override { return {260, 132}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    job::Outcome outcome_ = job::RollGradient;
    QString name_;
};

} // namespace dervish::app

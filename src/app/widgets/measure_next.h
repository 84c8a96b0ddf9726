#pragma once
#include "app/document.h"
#include "core/study/assess.h"

#include <QWidget>

namespace dervish::app {

/// Which guess widens the band of an outcome most: bars of its share of the variance.
class MeasureNext : public QWidget {
    Q_OBJECT

public:
    explicit MeasureNext(Document& document, QWidget* parent = nullptr);
    void ask(study::Outcome outcome, const QString& name);
    QSize sizeHint() const override { return {260, 132}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Document& document_;
    study::Outcome outcome_ = study::RollGradient;
    QString name_;
};

} // namespace dervish::app

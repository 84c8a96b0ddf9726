#pragma once
#include "app/document.h"

#include <QWidget>

namespace dervish::app {

/// Everything measured on the car, in walking order round it, each with where it comes from. Click one to go there.
class MeasuringList : public QWidget {
    Q_OBJECT

public:
    explicit MeasuringList(Document& document, QWidget* parent = nullptr);

signals:
    void picked(const QString& path);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

private:
    Document& document_;
    std::vector<std::pair<QRectF, QString>> places_;
};

} // namespace dervish::app

#pragma once
#include "app/document.h"

#include <QWidget>

#include <array>
#include <vector>

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
    void resizeEvent(QResizeEvent*) override;

private:
    struct Row {
        QString path, value;
        QStringList name; ///< in lines
        QRectF box;
        double room; ///< for its name, px
        job::Source source;
        bool waits;
    };
    double column() const; ///< how wide
    void lay();
    Document& document_;
    std::vector<Row> rows_;
    std::array<int, 3> count_{}; ///< measured, quoted, assumed
};

} // namespace dervish::app

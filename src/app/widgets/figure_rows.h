#pragma once
#include <QWidget>

#include <vector>

namespace dervish::app {

/// A line of a painted list: what, its value, and a word on it. A heading has no value.
struct FigureRow {
    enum class Mark { Plain, Heading, Caution, Bad };
    QString what, value, note;
    Mark mark = Mark::Plain;
};

/// Lines in columns, filled downwards; cut with an ellipsis where they are wider than their column, whole when pointed
/// at. A mark is a shape beside the words.
class FigureRows : public QWidget {
    Q_OBJECT

public:
    explicit FigureRows(const QString& name, QWidget* parent = nullptr);
    /// `split`: where in a line the value ends and the word on it begins.
    void show_rows(std::vector<FigureRow> rows, int columns, const QString& empty, double split = 0.5);
    const std::vector<FigureRow>& rows() const { return rows_; }
    /// The value beside what; empty when there is no such line.
    QString value(const QString& what) const;

protected:
    void paintEvent(QPaintEvent*) override;
    bool event(QEvent*) override;

private:
    QRectF box(std::size_t row) const;
    std::vector<FigureRow> rows_;
    int columns_ = 1;
    double split_ = 0.5;
    QString empty_;
};

} // namespace dervish::app

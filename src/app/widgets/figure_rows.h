#pragma once
#include <QWidget>

#include <optional>
#include <vector>

namespace dervish::app {

/// A line of a painted list: what, its value, and a word on it. A heading has no value.
struct FigureRow {
    enum class Mark { Plain, Heading, Caution, Bad };
    QString what, value, note;
    Mark mark = Mark::Plain;
    /// Its value on a line between two ends in words, with Fitted's as a dashed stroke, under it.
    struct Scale {
        double low, high, value;
        std::optional<double> was;
        QString low_word, high_word;
    };
    std::optional<Scale> scale{};
};

/// Lines in columns, filled downwards, a heading with its lines in one column; words wider than their place go on
/// below. A mark is a shape beside the words.
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
    void resizeEvent(QResizeEvent*) override;

private:
    struct Laid {
        QRectF box;
        QStringList what, note;
        double value_below = 0; ///< where what and value do not go beside each other, px
    };
    void lay();
    void paint_scale(QPainter& p, const QRectF& room, const FigureRow::Scale& scale) const;
    bool stacked_ = false; ///< the word on a line below it, where there is no room beside it
    std::vector<FigureRow> rows_;
    std::vector<Laid> laid_; ///< where each row stands
    int columns_ = 1;
    double split_ = 0.5;
    QString empty_;
};

} // namespace dervish::app

#pragma once
#include "app/prove/test_sums.h"
#include "app/widgets/page_pieces.h"

#include <QWidget>

namespace dervish::app {

/// The runs of a test in their order: for each the frozen prediction of its setup with its band, what was read, and at
/// the left what was guessed; beside them what the second setup changes. A run is chosen by a click.
class RunChart : public QWidget {
    Q_OBJECT

public:
    RunChart(Document& document, TestSums& sums, QWidget* parent = nullptr);
    /// The verdict as it stands in the picture.
    QString verdict() const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    struct Scale {
        double low, high;
        QRectF room;
        double y(double si) const { return room.bottom() - (si - low) / (high - low) * room.height(); }
    };
    Scale scale_of(const QRectF& room) const;
    double x_of(std::size_t run, const QRectF& room) const;
    std::size_t shown_runs() const; ///< those made and those still planned
    void paint_runs(QPainter& p, const Scale& scale) const;
    void paint_guesses(QPainter& p, const Scale& scale) const;
    void paint_change(QPainter& p, const QRectF& room) const;
    void paint_empty(QPainter& p) const;
    void announce();
    QRectF runs_room() const;

    Document& document_;
    TestSums& sums_;
};

/// "A", "B": how a state is called in a picture.
inline QString letter_of(int state) { return QString(QChar('A' + state)); }
/// "B  Softer rear".
inline QString state_named(const job::PlannedTest& test, std::size_t state) {
    return letter_of(static_cast<int>(state)) + "  " + qs(test.states[state].name);
}
inline Entries states_of(const job::PlannedTest& test) {
    Entries out;
    for (std::size_t s = 0; s < test.states.size(); ++s) out.emplace_back(state_named(test, s), QVariant());
    return out;
}

} // namespace dervish::app

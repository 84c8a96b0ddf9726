#pragma once
#include "app/document.h"
#include "app/late.h"
#include "app/worker.h"
#include "core/study/balance.h"
#include "core/sure/bands.h"

#include <QWidget>

class QPainter;
class QPushButton;

namespace dervish::app {

/// The limit on every ground with every load, drawn as a grid, Fitted's beside it; on request with its bands, by a
/// worker that tells how far it is and can be stopped.
class ConditionsPage : public QWidget {
    Q_OBJECT

public:
    explicit ConditionsPage(Document& document, QWidget* parent = nullptr);
    void say();
    bool working() const { return worker_.started(); }
    void finish(); ///< waits for the worker

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; ///< paints the picture

private:
    void start();
    void paint_grid(QPainter& p);
    void paint_cell(QPainter& p, const QRectF& box, std::size_t ground, std::size_t load) const;
    void stop();
    void told();

    Document& document_;
    QWidget* picture_;
    QPushButton* button_;
    bool stale_ = true;
    struct Band {
        double limit = 0;      ///< σ of the limit, m/s²
        sure::Change change{}; ///< what Trial changes of it
    };
    std::vector<std::array<Band, 3>> bands_; ///< as far as they are worked out
    double most_ = 1;                        ///< what a whole cell is, m/s²
    struct Grids {
        study::Grid now, fitted;
        QString problem; ///< why there are none
    };
    Late<Grids> grids_{[this] { told(); }}; ///< these two last: they end before what they post to
    Worker worker_;
};

} // namespace dervish::app

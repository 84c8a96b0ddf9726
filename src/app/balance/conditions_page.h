#pragma once
#include "app/document.h"
#include "core/job/balance.h"

#include <QWidget>

#include <thread>

class QPainter;
class QPushButton;

namespace dervish::app {

/// The limit on every ground with every load, drawn as a grid, Fitted's beside it; on request with its bands, by a
/// worker that tells how far it is and can be stopped.
class ConditionsPage : public QWidget {
    Q_OBJECT

public:
    explicit ConditionsPage(Document& document, QWidget* parent = nullptr);
    ~ConditionsPage() override;
    void say();
    bool working() const { return cancel_ && !*cancel_; }
    void finish(); ///< waits for the worker

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; ///< paints the picture

private:
    void start();
    void paint_grid(QPainter& p) const;
    void paint_cell(QPainter& p, const QRectF& box, std::size_t ground, std::size_t load) const;
    void stop();
    void told();

    Document& document_;
    QWidget* picture_;
    QPushButton* button_;
    job::Grid grid_, fitted_;
    QString problem_;
    bool stale_ = true;
    std::vector<std::array<job::Bands, 3>> bands_; ///< as far as they are worked out
    std::thread worker_;
    std::shared_ptr<std::atomic<bool>> cancel_; ///< null: nothing under way
};

} // namespace dervish::app

#pragma once
#include "app/document.h"
#include "core/job/balance.h"

#include <QWidget>

#include <thread>

class QPushButton;

namespace dervish::app {

class FigureRows;

/// The limit on every ground with every load; on request with its bands, by a worker that tells how far it is and can
/// be stopped.
class ConditionsPage : public QWidget {
    Q_OBJECT

public:
    explicit ConditionsPage(Document& document, QWidget* parent = nullptr);
    ~ConditionsPage() override;
    void say();
    bool working() const { return cancel_ && !*cancel_; }
    void finish(); ///< waits for the worker

private:
    void start();
    void stop();
    void show_grid();

    Document& document_;
    FigureRows* rows_;
    QPushButton* button_;
    job::Grid grid_;
    bool stale_ = true;
    std::vector<std::array<job::Bands, 3>> bands_; ///< as far as they are worked out
    std::thread worker_;
    std::shared_ptr<std::atomic<bool>> cancel_; ///< null: nothing under way
};

} // namespace dervish::app

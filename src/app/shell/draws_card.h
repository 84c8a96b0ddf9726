#pragma once
#include "app/document.h"
#include "app/worker.h"
#include "core/sure/bands.h"
#include "core/sure/draws.h"

#include <QDialog>

class QGridLayout;
class QLabel;
class QProgressBar;
class QPushButton;

namespace dervish::app {

/// The looked-at setup's bands checked by drawing its inputs thousands of times, in its own thread, with progress and
/// a way to stop; beside the linear bands that the window shows.
class DrawsCard : public QDialog {
    Q_OBJECT

public:
    explicit DrawsCard(const Document& document, QWidget* parent = nullptr);

private:
    void show_progress(int done);
    void show_result(const sure::Draws& draws);

    const job::Job job_; ///< as it was when asked
    const Look look_;
    const units::System units_;
    const std::optional<sure::Bands> bands_;
    QLabel* state_;
    QProgressBar* progress_;
    QPushButton* stop_;
    QGridLayout* table_;
    std::shared_ptr<std::atomic<bool>> stopped_ = std::make_shared<std::atomic<bool>>(false);
    Worker worker_; ///< last: it ends before what it posts to
};

/// How many cars are drawn.
inline constexpr int cars_drawn = 4000;

} // namespace dervish::app

#pragma once
#include "app/document.h"
#include "app/late.h"
#include "core/sure/questions.h"

#include <QWidget>
#include <functional>

class QComboBox;
class QLabel;
class QSlider;

namespace dervish::app {

/// A figure of a run over its time, and Fitted's dashed; `marked`: a moment of it, s, below 0 none.
void paint_moments(QPainter& p, const QRectF& room, const QString& title, double unit,
                   const std::function<double(const balance::Moment&)>& value, const std::vector<balance::Moment>& now,
                   const std::vector<balance::Moment>* fitted, double marked);

class BalanceSums;

/// A manoeuvre over time: lean, lateral acceleration and the lightest wheel, Fitted dashed, and what they come to.
class ManoeuvreReading : public QWidget {
    Q_OBJECT

public:
    ManoeuvreReading(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    void set_drive(const balance::Drive& drive);
    const balance::Drive& drive() const { return drive_; }
    const balance::Run* run(); ///< none before the first has come
    void finish();             ///< waits for it: pictures and tests
    void mark(double time);    ///< the moment played; below 0: none

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Runs {
        balance::Run now;
        std::optional<balance::Run> fitted;
        /// Of those that are not done: how fast each does the same line, m/s; nothing: not at a fifth of it.
        std::optional<double> now_at{}, fitted_at{};
    };
    void work_out();
    void paint_lines(QPainter& p, const QRectF& room, const QString& title, double unit,
                     const std::function<double(const balance::Moment&)>& value);
    Document& document_;
    BalanceSums& sums_;
    balance::Drive drive_{balance::Manoeuvre::LaneChange, 20, 0.4 * units::g};
    double marked_ = -1;
    int driven_ = 0;                   ///< the sums' edition that the runs are of
    std::optional<sure::Bands> bands_; ///< of the run's answers; they follow
    std::vector<sure::Change> change_; ///< Trial's against Fitted's; the last
    Late<Runs> runs_;                  ///< last: it ends before what it posts to
};

/// Which manoeuvre, how fast and how hard, over its reading.
class ManoeuvrePage : public QWidget {
    Q_OBJECT

public:
    ManoeuvrePage(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    ManoeuvreReading& reading() const { return *reading_; }
    void set_drive(); ///< from the controls, for the car as it is

private:
    Document& document_;
    ManoeuvreReading* reading_;
    QComboBox* kind_;
    QSlider *speed_, *push_, *bump_;
    QLabel *words_, *push_words_;
};

} // namespace dervish::app

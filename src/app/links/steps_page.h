#pragma once
#include "app/document.h"
#include "core/say/setup_steps.h"

#include <QWidget>

class QCheckBox;
class QGridLayout;
class QLabel;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace dervish::app {

/// Setting up, step by step: the steps to the left with how each stands, the chosen one's reading, verdict and next
class NumberEdit;

/// action beside them. Readings belong to the setup looked at: what is found is found on the car too.
class StepsPage : public QWidget {
    Q_OBJECT

public:
    explicit StepsPage(Document& document, QWidget* parent = nullptr);
    void show_end(End end);
    void show_step(say::Step step);
    say::Step step() const { return step_; }
    QString verdict() const;

private:
    void refresh();
    void refresh_step(const say::StepFound& found);
    void build_fields();
    void type_reading(const say::StepReading& reading, const QString& text);
    void type_round(int row, int column);
    void edit(const QString& what, const QString& merge,
              const std::function<void(job::SetupChecks&, job::Job&)>& change);
    std::string draft(const std::string& key) const;
    const job::AxleSetup& assembly() const;
    const job::AxleData& axle() const;

    Document& document_;
    End end_ = End::Front;
    bool filling_ = false;
    say::Step step_ = say::Step::Limits;
    units::System in_ = units::System::Metric; ///< that the fields stand in
    std::vector<QPushButton*> steps_;
    QLabel *how_, *found_, *next_, *problem_;
    QCheckBox* tick_;
    QWidget* box_;
    QGridLayout* fields_;
    std::vector<NumberEdit*> edits_;
    QTableWidget* rounds_;
    NumberEdit *tolerance_, *per_wheel_;
    QLabel* length_unit_;
    QWidget* tolerance_box_;
};

} // namespace dervish::app

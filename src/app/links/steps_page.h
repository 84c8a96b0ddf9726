#pragma once
#include "app/document.h"
#include "core/say/setup_steps.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QPushButton;

namespace dervish::app {

class EntryRow;
class NumberTable;

/// Setting up, step by step: the steps to the left with how each stands, the chosen one's reading, verdict and next
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
    void build_rows();
    void type_round(int row, int column, const QString& text);
    void edit(const QString& what, const QString& merge,
              const std::function<void(job::SetupChecks&, job::Job&)>& change);
    std::string draft(const std::string& key) const;
    const job::AxleSetup& assembly() const;
    const job::AxleData& axle() const;

    Document& document_;
    End end_ = End::Front;
    say::Step step_ = say::Step::Limits;
    QString built_; ///< which step of which axle and setup the rows are of
    std::vector<QPushButton*> steps_;
    QLabel *how_, *found_, *next_, *problem_;
    QCheckBox* tick_;
    QWidget* box_;
    std::vector<EntryRow*> rows_;
    NumberTable* rounds_;
    QWidget* settings_; ///< how the rounds are judged
};

} // namespace dervish::app

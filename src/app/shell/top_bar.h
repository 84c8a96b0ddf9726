#pragma once
#include "app/document.h"

#include <QWidget>

class QLabel;
class QMenu;
class QPushButton;

namespace dervish::app {

/// The setup that stood by an entry of the book on Trial, which is then looked at.
void go_back_to(Document& document, int entry);

/// The job's name and complaint, Fitted and Trial, and the two ways in which Fitted changes.
class TopBar : public QWidget {
    Q_OBJECT

public:
    TopBar(Document& document, QMenu* job_menu, QWidget* parent = nullptr);

protected:
    void resizeEvent(QResizeEvent*) override { refresh(); }

private:
    void refresh();
    void choose_trial();
    void call_standard(bool trial);
    void change_fitted(bool found_so);
    void rename(bool trial);
    void edit_job_words();
    QString due_words(); ///< how much upkeep is due; empty: none

    Document& document_;
    struct DueOf {
        SharedList<job::Entry> book;
        std::vector<job::Upkeep> upkeep;
        int count = 0;
    };
    DueOf due_;                 ///< as counted last
    QWidget *words_, *differs_; ///< the job's name and complaint; what stands between Fitted and Trial
    QLabel* state_;
    QPushButton *fitted_, *trial_, *fit_, *found_;
};

} // namespace dervish::app

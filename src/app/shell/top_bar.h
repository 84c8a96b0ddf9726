#pragma once
#include "app/document.h"

#include <QWidget>

class QLabel;
class QMenu;
class QPushButton;

namespace dervish::app {

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

    Document& document_;
    QWidget* words_; ///< the job's name and complaint
    QLabel* state_;
    QPushButton *fitted_, *trial_, *fit_, *found_;
};

} // namespace dervish::app

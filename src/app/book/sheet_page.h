#pragma once
#include "app/book/sheet_view.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace dervish::app {

/// Beside the job sheet: how far it is, the time it takes, torques with their source, paper.
class SheetPage : public QWidget {
    Q_OBJECT

public:
    SheetPage(Document& document, SheetView& view, QWidget* parent = nullptr);
    void refresh();
    /// The sheet on paper, by any device that takes pages.
    static void put(class QPagedPaintDevice& paper, const job::Job& job, units::System system);

private:
    void keep_torque();
    void print();
    Document& document_;
    SheetView& view_;
    QLabel *how_far_, *set_to_, *error_;
    QLineEdit *minutes_, *of_, *source_, *moment_, *wrench_, *adapter_, *angle_;
    QComboBox* torques_;
};

} // namespace dervish::app

#pragma once
#include "app/book/sheet_view.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace dervish::app {

/// Beside the job sheet: of which setups, how far it is, the time it takes, fasteners and torques with their source,
/// paper.
class SheetPage : public QWidget {
    Q_OBJECT

public:
    SheetPage(Document& document, SheetView& view, QWidget* parent = nullptr);
    void refresh();

private:
    void build_setups(QVBoxLayout* column);
    void build_fasteners(QVBoxLayout* column);
    void choose_setups();
    void show_fasteners(const job::Torque& fasteners);
    void keep_torque();
    void print();
    /// The setups a sheet may be from or to: the first is what stands now, Fitted or Trial.
    std::vector<std::pair<QString, job::Setup>> offered(bool from) const;
    Document& document_;
    SheetView& view_;
    QLabel *how_far_, *set_to_, *error_;
    QLineEdit *minutes_, *of_, *source_, *size_, *count_, *moment_, *wrench_, *adapter_, *angle_;
    QFormLayout* form_; ///< of a fastener
    QComboBox *torques_, *from_, *to_;
};

} // namespace dervish::app

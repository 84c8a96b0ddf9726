#pragma once
#include "app/document.h"
#include "core/proof/rig_check.h"

#include <QWidget>

class QCheckBox;
class QLabel;

namespace dervish::app {

class NumberTable;

/// The bar on the bench: readings of masses and a dial to the left, what the sum expects and the verdict to the right.
class RigReading : public QWidget {
    Q_OBJECT

public:
    explicit RigReading(Document& document, QWidget* parent = nullptr);
    void show_axle(End end);
    /// The verdict in words as it stands in the picture.
    QString verdict() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void refresh();
    void type_cell(int row, int column, const QString& text);
    void edit_rig(const QString& what, const std::function<void(job::RigCheck&)>& change);
    const job::AxleSetup& assembly() const;
    std::string draft(int row, int column) const;
    void showEvent(QShowEvent*) override;
    void work_out(); ///< what is painted, when seen
    void paint_chart(class QPainter& p, const QRectF& room);

    Document& document_;
    NumberTable* table_;
    QCheckBox *both_, *blocks_;
    QLabel* problem_;
    End end_ = End::Front;
    job::Assembly of_;
    job::RigCheck read_;
    units::System in_ = units::System::Metric;
    std::optional<proof::RigVerdict> verdict_;
    std::vector<std::pair<double, double>> expected_; ///< mass, dial
};

} // namespace dervish::app

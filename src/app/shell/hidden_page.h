#pragma once
#include "app/shell/station.h"

class QLabel;

namespace dervish::app {

class Document;

/// Stands in a station's place while a guess is open: what would answer it is hidden, and how to go on.
class HiddenPage : public Station {
    Q_OBJECT

public:
    explicit HiddenPage(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {}; }
    bool go_to(const QString&) override { return false; }
    void refresh();

signals:
    void prove_wanted();

private:
    Document& document_;
    QLabel* words_;
};

} // namespace dervish::app

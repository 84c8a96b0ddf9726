#pragma once
#include "app/shell/station.h"

namespace dervish::app {

class TestChart;
class TestForm;
class TravelGauges;

/// Predict, test, compare.
class ProveStation : public Station {
    Q_OBJECT

public:
    explicit ProveStation(Document& document, QWidget* parent = nullptr);
    QStringList shot_names() const override { return {"06-prove"}; }
    bool go_to(const QString&) override { return false; }

private:
    TestChart* chart_;
    TravelGauges* gauges_;
    TestForm* form_;
};

} // namespace dervish::app

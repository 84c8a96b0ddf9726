#pragma once
#include "app/document.h"
#include "core/study/links.h"

#include <QWidget>

class QPushButton;

namespace dervish::app {

class FieldPanel;
class FigureRows;

/// A page under the links' drawing: fields to its left, what follows from them as lines. What it says is worked out a
/// blink after the last change, and only while it is seen.
class LinkPage : public QWidget {
    Q_OBJECT

public:
    LinkPage(Document& document, const QString& name, int columns, QWidget* parent = nullptr);
    void show_end(End end, std::size_t side);
    const FigureRows& rows() const { return *rows_; }

protected:
    virtual void say() = 0; ///< fills the lines
    void showEvent(QShowEvent*) override;
    const job::AxleSetup& assembly() const;
    const job::AxleData& axle() const;
    QString length(double si, int decimals = -1) const;
    QString angle(double si) const;
    QString force(double si) const;

    Document& document_;
    End end_ = End::Front;
    std::size_t side_ = 0;
    FieldPanel* fields_;
    class QVBoxLayout* left_;
    FigureRows* rows_;
    int columns_;

private:
    void refresh();
};

/// What length the link should have, and how a thread gets there.
class PlanPage : public LinkPage {
    Q_OBJECT

public:
    explicit PlanPage(Document& document, QWidget* parent = nullptr);

protected:
    void say() override;

private:
    void take(std::optional<double> length, const QString& what);
    QPushButton *level_, *kept_;
    std::optional<double> level_length_, kept_length_;
};

/// Every limit through travel and steer, tightest first.
class LimitsPage : public LinkPage {
    Q_OBJECT

public:
    explicit LimitsPage(Document& document, QWidget* parent = nullptr);

protected:
    void say() override;
};

/// What the bar carries with the car at rest, and what takes it out or puts it in.
class RestPage : public LinkPage {
    Q_OBJECT

public:
    explicit RestPage(Document& document, QWidget* parent = nullptr);

protected:
    void say() override;
};

} // namespace dervish::app

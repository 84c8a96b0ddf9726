#pragma once
#include "app/document.h"

#include <QWidget>

class QButtonGroup;

namespace dervish::app {

/// A place of work: one drawing that is both picture and control, a second reading below, the numbers beside it.
class Station : public QWidget {
    Q_OBJECT

public:
    using QWidget::QWidget;
    virtual QStringList shot_names() const = 0;             ///< of its pictures, "01-car" first
    virtual void pose(int) {}                               ///< takes the stand of its n-th picture
    virtual bool go_to(const QString& path) = 0;            ///< shows and focuses the field; false when it is not here
    virtual void step(int) {}                               ///< [ and ]
    virtual void play() {}                                  ///< Space
    virtual void measure_next() {}                          ///< M
    virtual QButtonGroup* parts() const { return nullptr; } ///< of the panel, turned by Page Up and Page Down
    virtual QString caution_words() const { return {}; }    ///< that go on what it prints

signals:
    void field_wanted(const QString& path); ///< somewhere else in the window
};

} // namespace dervish::app

#pragma once
#include "app/document.h"
#include "app/late.h"
#include "app/worker.h"
#include "core/say/balance_words.h"
#include "core/study/cures.h"

#include <QWidget>
#include <array>
#include <map>
#include <set>

class QComboBox;
class QLabel;
class QPushButton;

namespace dervish::app {

class BalanceSums;
class NumberBox;

/// What cures were found, of which setup, and which two are looked at.
struct CuresFound {
    Result of;
    Ground ground;
    study::Aim aim;
    std::vector<job::TyreData> sets;
    study::Cures cures;
    std::array<int, 2> shown{-1, -1};                   ///< of cures.ways; −1: none
    std::size_t chosen = 0;                             ///< of the two, what goes on Trial
    std::shared_ptr<const sure::Answered> costs{};      ///< of the car as it is; null until worked out
    std::set<int> drawn{};                              ///< ways whose limits and ramps in `sure` are of cars drawn
    std::map<int, std::vector<sure::Change>> sure{};    ///< of sure::costs(), as far as worked out
    std::map<int, QString> work{};                      ///< how much it is to do
    std::map<int, std::vector<std::string>> cautions{}; ///< of those shown, that the car as it is has not
    std::vector<sure::Change> sure_of(int way) const {
        const auto at = sure.find(way);
        return at == sure.end() ? std::vector<sure::Change>() : at->second;
    }
    const study::Cure* way(std::size_t card) const {
        return shown[card] < 0 ? nullptr : &cures.ways[static_cast<std::size_t>(shown[card])];
    }
};

/// Two ways to the same change side by side: the car as it leans with each, which end gives up first, and what each
/// costs. A click chooses one.
class CuresDrawing : public QWidget {
    Q_OBJECT

public:
    explicit CuresDrawing(Document& document, QWidget* parent = nullptr);
    void show_cures(const CuresFound* found, const QString& otherwise);

signals:
    void chosen(std::size_t card);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;

private:
    QRectF card(std::size_t which) const;
    void paint_card(QPainter& p, std::size_t which);
    void paint_lean(QPainter& p, const QRectF& room, const study::Costs& then);
    Document& document_;
    const CuresFound* found_ = nullptr;
    QString otherwise_; ///< what stands there without any
};

/// Every way, with how much of what is wanted it does and what it costs first; a click puts it on the card chosen.
class WaysList : public QWidget {
    Q_OBJECT

public:
    explicit WaysList(Document& document, QWidget* parent = nullptr);
    void show_ways(const CuresFound* found);
    QRectF row(int way) const; ///< its place; empty where it does not help
    QString words(int way) const;

signals:
    void picked(int way);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    void fit_rows();
    Document& document_;
    const CuresFound* found_ = nullptr;
    int row_height_ = 26;
    std::vector<int> helping_; ///< ways that do, in the order shown
};

/// What is wanted, the ways to it, and the one that goes on Trial.
class CuresPage : public QWidget {
    Q_OBJECT

public:
    CuresPage(Document& document, BalanceSums& sums, QWidget* parent = nullptr);
    CuresDrawing* drawing() const { return drawing_; }
    /// Asks for that and works it out. `wanted`: SI.
    void want(study::Aim aim, double wanted);
    std::optional<double> reading(study::Aim aim, Look look) const; ///< of a setup on the ground chosen
    void want_fitted();
    void work_out();
    void forget(); ///< car or ground have changed: put on twice they would count twice
    void finish(); ///< waits for it: pictures and tests
    const CuresFound* found() const { return found_ ? &*found_ : nullptr; }

signals:
    void field_wanted(const QString& path); ///< of a cure that is the car's own

private:
    study::Aim aim() const;
    void ask();
    void take_up();
    void put_on_trial();
    void tell();
    void ask_costs();
    Document& document_;
    BalanceSums& sums_;
    CuresDrawing* drawing_;
    WaysList* list_;
    QComboBox *aim_, *rule_;
    NumberBox* wanted_;
    QLabel *unit_, *note_;
    QPushButton* put_;
    std::optional<CuresFound> found_;
    bool changed_since_ = false;
    Late<CuresFound> working_{[this] { take_up(); }}; ///< last: they end before what they post to
    Worker costs_;
};

} // namespace dervish::app

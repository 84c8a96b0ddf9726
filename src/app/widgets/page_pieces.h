#pragma once
#include "app/words.h"

#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QVariant>
#include <algorithm>
#include <utility>
#include <vector>

/// What pages of words and numbers beside a drawing are laid out of.
namespace dervish::app {

inline QVBoxLayout* plain_column(QWidget* in) {
    auto* out = new QVBoxLayout(in);
    out->setContentsMargins(0, 0, 0, 0);
    out->setSpacing(1);
    return out;
}
/// As wide as there is room, not as its longest entry.
inline QComboBox* named_combo(const QString& name, const QString& told) {
    auto* out = new QComboBox;
    out->setObjectName(name);
    out->setAccessibleName(told);
    out->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    out->setMinimumWidth(120);
    return out;
}
using Entries = std::vector<std::pair<QString, QVariant>>;
/// What there is to choose, each with its data; what is there already stays, so that a list that is open does.
inline void refill(QComboBox* box, const Entries& entries) {
    bool same = box->count() == static_cast<int>(entries.size());
    for (int i = 0; same && i < box->count(); ++i) {
        const auto& [words, data] = entries[static_cast<std::size_t>(i)];
        same = box->itemText(i) == words && box->itemData(i) == data;
    }
    if (same) return;
    box->clear();
    for (const auto& [words, data] : entries) box->addItem(words, data);
}
/// And chooses the one with this data, the first where there is none.
inline void refill(QComboBox* box, const Entries& entries, const QString& chosen) {
    refill(box, entries);
    box->setCurrentIndex(std::max(0, box->findData(chosen)));
}
inline QLabel* named_words(const QString& name) {
    auto* out = new QLabel;
    out->setObjectName(name);
    out->setWordWrap(true);
    out->setStyleSheet("font-size: 13px;");
    return out;
}
inline QPushButton* named_button(const QString& words, const QString& name) {
    auto* out = new QPushButton(words);
    out->setObjectName(name);
    return out;
}
inline QLineEdit* named_line(const QString& name, const QString& told) {
    auto* out = new QLineEdit;
    out->setObjectName(name);
    out->setAccessibleName(told);
    return out;
}
/// Shows what is kept, but under the hand that types it, unless it is of `another` thing than before.
inline void show_kept(QLineEdit* line, const std::string& words, bool another) {
    if (line->text() != qs(words) && (another || !line->hasFocus())) line->setText(qs(words));
}

} // namespace dervish::app

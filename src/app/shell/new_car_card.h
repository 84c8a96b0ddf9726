#pragma once

class QWidget;

namespace dervish::app {

class Document;

/// Asks what kind of car a new job is of, and begins it with guesses of that kind.
void ask_new_car(QWidget* parent, Document& document);

} // namespace dervish::app

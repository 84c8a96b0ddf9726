#include "app/shell/hidden_page.h"

#include "app/document.h"
#include "app/words.h"
#include "core/edit/tests.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace dervish::app {

HiddenPage::HiddenPage(Document& document, QWidget* parent) : Station(parent), document_(document), words_(new QLabel) {
    setObjectName("ground");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(60, 60, 60, 60);
    column->setSpacing(14);
    auto* head = new QLabel(tr("<b>Hidden while a guess is open</b>"));
    head->setStyleSheet("font-size: 22px;");
    words_->setObjectName("hidden words");
    words_->setWordWrap(true);
    words_->setStyleSheet("font-size: 15px;");
    auto* back = new QPushButton(tr("To the guess"));
    back->setObjectName("to the guess");
    auto* show = new QPushButton(tr("Show everything: this test is no longer blind"));
    show->setObjectName("give up the guess");
    column->addWidget(head);
    column->addWidget(words_);
    column->addWidget(back, 0, Qt::AlignLeft);
    column->addWidget(show, 0, Qt::AlignLeft);
    column->addStretch();
    connect(back, &QPushButton::clicked, this, &HiddenPage::prove_wanted);
    connect(show, &QPushButton::clicked, this, [this] {
        document_.edit(tr("hiding given up"), {}, [](job::Job& job) {
            for (std::size_t i = 0; i < job.tests.size(); ++i)
                if (job.tests[i].guess_open()) edit::set_blind(job, static_cast<int>(i), false);
        });
    });
    refresh();
}

void HiddenPage::refresh() {
    if (const job::PlannedTest* open = job::open_guess(document_.job()))
        words_->setText(tr("“%1” is planned and not predicted yet. Everything that would answer it is hidden in the "
                           "whole window: the figures below, the drawings, other stations and other tests. Guess, then "
                           "predict; or give the hiding up, which the test then says of itself.")
                            .arg(qs(open->name)));
}

} // namespace dervish::app

#pragma once
#include "core/edit/readings.h"

/// What the edits that take typed entries share; not for their users.
namespace dervish::edit {

inline bool nothing_in(const std::string& text) { return text.find_first_not_of(" \t") == std::string::npos; }

/// `take` takes the entry up or throws BadInput, and then it waits at `key`.
template <class Take> void take_or_wait(Job& job, const std::string& key, const Entry& entry, Take&& take) {
    job.drafts.erase(key);
    try {
        take();
    } catch (const BadInput&) {
        job.drafts[key] = {entry.text, entry.system};
    }
}

} // namespace dervish::edit

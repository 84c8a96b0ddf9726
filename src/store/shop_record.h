#pragma once
#include "core/book/minutes.h"

#include <filesystem>

/// What jobs took that were saved here, over all of them: the shop's own record, a JSON file by the job's path.
namespace dervish::store {

/// Of all jobs but the one at `except`, whose own book says more; empty where there is no record, or none that can be
/// read.
std::vector<book::Took> shop_record(const std::filesystem::path& record, const std::filesystem::path& except);

/// What the job's book has now in place of what it had. Throws BadInput where it cannot be written.
void keep_in_shop_record(const std::filesystem::path& record, const std::filesystem::path& path, const job::Job& job);

} // namespace dervish::store

#include "store/job_file.h"

#include "core/job/assess.h"
#include "core/job/fields.h"
#include "store/json_job.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace dervish::store {
namespace fs = std::filesystem;
namespace {
constexpr const char* member = "job.json";
constexpr int deepest = 40;
constexpr std::size_t largest_json = 64u << 20;

std::string read_file(const fs::path& path) {
    std::error_code error;
    if (!fs::exists(path, error))
        throw BadInput(path.string(), "there is no such file", "choose a .dervish file or a job.json");
    if (!fs::is_regular_file(path, error))
        throw BadInput(path.string(), "not a file", "choose a .dervish file or a job.json");
    const auto size = fs::file_size(path, error);
    if (error || size > largest_file) throw BadInput(path.string(), "too large for a job", "at most 512 MiB");
    std::ifstream in(path, std::ios::binary);
    std::string bytes(size, '\0');
    if (!in.read(bytes.data(), static_cast<std::streamsize>(size)))
        throw BadInput(path.string(), "cannot be read", "check the permissions and the disk");
    return bytes;
}

Json parse_json(const std::string& text) {
    if (text.size() > largest_json) throw BadInput(member, "too large", "at most 64 MiB");
    const auto guard = [](int depth, Json::parse_event_t, Json&) {
        if (depth > deepest)
            throw BadInput(member, "nested too deep", "a job nests at most " + std::to_string(deepest) + " levels");
        return true;
    };
    try {
        return Json::parse(text, guard);
    } catch (const Json::parse_error& e) {
        const std::size_t at = std::min<std::size_t>(e.byte, text.size());
        const auto line = 1 + std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n');
        throw BadInput(std::string(member) + " line " + std::to_string(line), "not sound JSON",
                       "open the backup beside it, or correct the line");
    }
}

/// Values a field does not accept become its draft, so that the window can show and mend them.
void set_aside(job::Job& job) {
    for (job::FieldRef& f : job::fields(job)) {
        try {
            job::check_range(f.value->value, f.spec, units::System::Metric, f.path);
        } catch (const BadInput&) {
            job.drafts[f.path] = job::show(f.value->value, f.spec, units::System::Metric);
            f.value->value = std::clamp(f.value->value, f.spec.lowest, f.spec.highest);
        }
    }
}

[[noreturn]] void cannot_write(const fs::path& path) {
    throw BadInput(path.string(), std::string("cannot be written (") + std::strerror(errno) + ")",
                   "save to another folder or free some space; the file there is untouched");
}

void write_whole(const fs::path& path, const std::string& bytes, mode_t mode) {
    const int file = ::open(path.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, mode);
    if (file < 0) cannot_write(path);
    std::size_t done = 0;
    while (done < bytes.size()) {
        const auto n = ::write(file, bytes.data() + done, bytes.size() - done);
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) break;
        done += static_cast<std::size_t>(n);
    }
    const bool good = done == bytes.size() && ::fsync(file) == 0;
    const int kept = errno;
    ::close(file);
    if (!good) {
        ::unlink(path.c_str());
        errno = kept;
        cannot_write(path);
    }
}

void keep_backup(const fs::path& path) {
    const fs::path backup = backup_of(path), fresh = backup.string() + ".new";
    ::unlink(fresh.c_str());
    if (::link(path.c_str(), fresh.c_str()) != 0) { // a file system without hard links
        std::error_code error;
        if (!fs::copy_file(path, fresh, fs::copy_options::overwrite_existing, error)) cannot_write(fresh);
    }
    if (::rename(fresh.c_str(), backup.c_str()) != 0) cannot_write(backup);
}
} // namespace

fs::path backup_of(const fs::path& path) {
    fs::path out = path;
    return out.replace_extension("previous" + path.extension().string());
}

JobFile load(const fs::path& path) {
    try {
        const std::string bytes = read_file(path);
        JobFile out;
        if (bytes.starts_with("PK")) {
            out.attachments = unpack(bytes);
            const auto at = out.attachments.find(member);
            if (at == out.attachments.end())
                throw BadInput(member, "missing from the archive", "a .dervish file holds a job.json");
            out.job = from_json(parse_json(at->second));
            out.attachments.erase(at);
        } else {
            out.job = from_json(parse_json(bytes));
        }
        set_aside(out.job);
        return out;
    } catch (const BadInput& e) {
        throw e.where() == path.string() ? e : e.within(path.filename().string());
    }
}

void save(const JobFile& file, const fs::path& path) {
    const std::string text = to_json(file.job).dump(1) + "\n";
    std::string bytes = text;
    if (path.extension() != ".json") {
        Members members = file.attachments;
        members[member] = text;
        bytes = pack(members);
    }
    struct stat old {};
    const bool exists = ::stat(path.c_str(), &old) == 0;
    const fs::path beside = path.string() + ".part";
    write_whole(beside, bytes, exists ? old.st_mode & 0777 : 0644);
    if (exists) keep_backup(path);
    if (::rename(beside.c_str(), path.c_str()) != 0) {
        ::unlink(beside.c_str());
        cannot_write(path);
    }
    const fs::path folder = path.has_parent_path() ? path.parent_path() : ".";
    if (const int at = ::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); at >= 0) {
        ::fsync(at);
        ::close(at);
    }
}

} // namespace dervish::store

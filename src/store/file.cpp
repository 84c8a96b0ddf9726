#include "store/file.h"

#include "core/num/bad_input.h"

#include <algorithm>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <ctime>
#include <fcntl.h>
#include <random>
#include <set>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

namespace dervish::store {
namespace fs = std::filesystem;
namespace {
constexpr std::size_t newest_kept = 5, days_kept = 7;

[[noreturn]] void cannot_write(const fs::path& path, int reason) {
    throw BadInput(path.string(), std::string("cannot be written (") + std::strerror(reason) + ")",
                   "save to another folder or free some space; the file there is untouched");
}

/// An open file, closed at the end.
class Handle {
public:
    explicit Handle(int file) : file_(file) {}
    ~Handle() { close(); }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    int operator*() const { return file_; }
    void release() { file_ = -1; } ///< somebody else closes it
    bool good() const { return file_ >= 0; }
    bool close() {
        const bool done = file_ < 0 || ::close(file_) == 0;
        file_ = -1;
        return done;
    }

private:
    int file_;
};

/// The file that a chain of links ends at, whether or not it exists yet.
fs::path behind_links(fs::path path) {
    std::error_code error;
    for (int links = 0; fs::is_symlink(fs::symlink_status(path, error)); ++links) {
        if (links == 40) cannot_write(path, ELOOP);
        const fs::path to = fs::read_symlink(path, error);
        if (error) cannot_write(path, error.value());
        path = to.is_absolute() ? to : path.parent_path() / to;
    }
    return path;
}

fs::path folder_of(const fs::path& path) { return path.has_parent_path() ? path.parent_path() : fs::path("."); }

fs::path fresh_name(const fs::path& folder) {
    static constexpr char figures[] = "0123456789abcdef";
    std::random_device dice;
    std::string name = ".dervish-";
    for (int i = 0; i < 16; ++i) name += figures[dice() % 16];
    return folder / (name + ".part");
}

void flush_folder(const fs::path& folder) {
    const Handle at(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (at.good()) ::fsync(*at);
}

/// "2026-11-25 23.45.01.250", a moment in UTC.
std::string utc(std::chrono::milliseconds since_1970) {
    const auto ms = since_1970.count();
    const auto seconds = static_cast<std::time_t>(ms / 1000);
    std::tm parts{};
    ::gmtime_r(&seconds, &parts);
    char text[32];
    const std::size_t size = std::strftime(text, sizeof text, "%Y-%m-%d %H.%M.%S", &parts);
    return std::string(text, size) + "." + std::to_string(1000 + ms % 1000).substr(1);
}

fs::path earlier_folder(const fs::path& path) { return folder_of(path) / (path.stem().string() + ".earlier"); }

/// The file at `path` by another name too: a link, or a copy where the file system has none.
bool name_twice(const fs::path& path, const fs::path& other) {
    if (::link(path.c_str(), other.c_str()) == 0) return true;
    if (errno == EEXIST) return false;
    std::error_code error;
    return fs::copy_file(path, other, error) && !error;
}

/// Its place in the order of versions: 0 of those from before they were counted, which follow each other by date.
unsigned long sequence(const fs::path& earlier) {
    const std::string name = earlier.filename().string();
    const std::size_t end = name.find_first_not_of("0123456789");
    return end != 0 && end < name.size() && name[end] == ' ' && end < 12 ? std::stoul(name.substr(0, end)) : 0;
}
std::string date_of(const fs::path& earlier) {
    const std::string name = earlier.filename().string();
    return name.substr(sequence(earlier) > 0 ? name.find(' ') + 1 : 0, 10);
}

/// `make` puts the version at a path that is free, and returns whether it was.
void keep(const fs::path& path, const std::function<bool(const fs::path&)>& make) {
    const fs::path folder = earlier_folder(path);
    std::error_code error;
    fs::create_directory(folder, error);
    const auto before = earlier_files(path);
    const auto now =
        std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch());
    unsigned long number = before.empty() ? 1 : sequence(before.front()) + 1;
    for (const unsigned long first = number;; ++number) {
        std::string figures = std::to_string(number);
        figures.insert(0, figures.size() < 4 ? 4 - figures.size() : 0, '0');
        const fs::path as = folder / (figures + " " + utc(now) + path.extension().string());
        if (make(as)) break;
        if (!fs::exists(as, error) || number == first + 1000) cannot_write(as, errno);
    }
    std::set<std::string> days;
    const auto all = earlier_files(path);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const bool last_of_day = days.insert(date_of(all[i])).second;
        if (i >= newest_kept && !(last_of_day && days.size() <= days_kept)) fs::remove(all[i], error);
    }
}

void write_all(int file, std::string_view bytes) { // throws the reason, an errno
    while (!bytes.empty()) {
        const auto n = ::write(file, bytes.data(), bytes.size());
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) throw n < 0 ? errno : EIO;
        bytes.remove_prefix(static_cast<std::size_t>(n));
    }
}
} // namespace

OpenFile::OpenFile(const fs::path& path, std::size_t largest)
    : path_(path), file_(::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC)) {
    Handle file(file_);
    if (!file.good()) {
        if (errno == ENOENT || errno == ENOTDIR)
            throw BadInput(path.string(), "there is no such file", "choose one that exists");
        throw BadInput(path.string(), std::string("cannot be read (") + std::strerror(errno) + ")",
                       "check the permissions and the disk");
    }
    struct stat about {};
    if (::fstat(*file, &about) != 0 || !S_ISREG(about.st_mode))
        throw BadInput(path.string(), "not a file", "choose a file");
    size_ = static_cast<std::size_t>(about.st_size);
    device_ = about.st_dev;
    inode_ = about.st_ino;
    if (size_ > largest)
        throw BadInput(path.string(), "too large", "at most " + std::to_string(largest >> 20) + " MiB");
    file.release();
}

OpenFile::~OpenFile() { ::close(file_); }

std::string OpenFile::read(std::size_t from, std::size_t count) const {
    std::string bytes(count, '\0');
    std::size_t done = 0;
    while (done < bytes.size()) {
        const auto n = ::pread(file_, bytes.data() + done, bytes.size() - done, static_cast<off_t>(from + done));
        if (n < 0 && errno == EINTR) continue;
        if (n <= 0) throw BadInput(path_.string(), "cannot be read to its end", "check the permissions and the disk");
        done += static_cast<std::size_t>(n);
    }
    return bytes;
}

fs::path OpenFile::again() const { return "/proc/self/fd/" + std::to_string(file_); }

bool OpenFile::is(const fs::path& other) const {
    struct stat about {};
    return ::stat(other.c_str(), &about) == 0 && about.st_dev == device_ && about.st_ino == inode_;
}

std::string read_file(const fs::path& path, std::size_t largest) {
    const OpenFile file(path, largest);
    return file.read(0, file.size());
}

void write_file(const fs::path& path, const std::string& bytes, bool keep_earlier) {
    write_file(
        path, [&](const Sink& out) { out(bytes); }, keep_earlier);
}

void write_file(const fs::path& named, const std::function<void(const Sink&)>& write, bool keep_earlier) {
    const fs::path path = behind_links(named), folder = folder_of(path);
    struct stat old {};
    const bool exists = ::lstat(path.c_str(), &old) == 0;
    if (exists && !S_ISREG(old.st_mode))
        throw BadInput(named.string(), "cannot be written (it is not a file)", "choose a file's name");
    if (exists && ((old.st_mode & 0222) == 0 || ::access(path.c_str(), W_OK) != 0))
        throw BadInput(named.string(), "cannot be written (it is read-only)",
                       "save under another name, or allow writing to it; the file there is untouched");
    // Without a name until it is whole, where the file system can do that; then a kill leaves nothing behind.
    fs::path beside;
    int opened = ::open(folder.c_str(), O_TMPFILE | O_WRONLY | O_CLOEXEC, 0666);
    if (opened < 0) {
        beside = fresh_name(folder);
        opened = ::open(beside.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_NOFOLLOW | O_CLOEXEC, 0666);
        if (opened < 0) cannot_write(named, errno);
    }
    Handle file(opened);
    const auto give_up = [&](int reason) {
        if (!beside.empty()) ::unlink(beside.c_str());
        cannot_write(named, reason);
    };
    if (exists) {
        // The group first: it may take rights away, which the mode then gives again.
        if (::fchown(*file, ::geteuid() == 0 ? old.st_uid : static_cast<uid_t>(-1), old.st_gid) != 0)
            errno = 0; // not ours to give
        if (::fchmod(*file, old.st_mode & 07777) != 0) give_up(errno);
    }
    try {
        write([&](std::string_view bytes) { write_all(*file, bytes); });
        if (::fsync(*file) != 0) throw errno;
        if (keep_earlier && exists) keep(path, [&](const fs::path& as) { return name_twice(path, as); });
    } catch (const int reason) {
        give_up(reason);
    } catch (...) {
        if (!beside.empty()) ::unlink(beside.c_str());
        throw;
    }
    if (beside.empty()) { // named as late as can be: a kill from here to the rename would leave it
        const std::string here = "/proc/self/fd/" + std::to_string(*file);
        const fs::path name = fresh_name(folder);
        if (::linkat(AT_FDCWD, here.c_str(), AT_FDCWD, name.c_str(), AT_SYMLINK_FOLLOW) != 0) give_up(errno);
        beside = name;
    }
    if (::rename(beside.c_str(), path.c_str()) != 0) give_up(errno);
    if (!file.close()) cannot_write(named, errno);
    flush_folder(folder);
}

bool append_to_file(const fs::path& named, std::size_t size, const std::function<void(const Sink&)>& write) {
    const fs::path path = behind_links(named);
    if (::access(path.c_str(), W_OK) != 0) return false; // said by whoever writes it whole
    const Handle file(::open(path.c_str(), O_WRONLY | O_CLOEXEC | O_NOFOLLOW));
    struct stat about {};
    if (!file.good() || ::flock(*file, LOCK_EX | LOCK_NB) != 0 || ::fstat(*file, &about) != 0 ||
        static_cast<std::size_t>(about.st_size) != size)
        return false;
    if (::lseek(*file, 0, SEEK_END) < 0) cannot_write(named, errno);
    const auto take_back = [&] { (void)!::ftruncate(*file, about.st_size); };
    try {
        write([&](std::string_view bytes) { write_all(*file, bytes); });
        if (::fsync(*file) != 0) throw errno;
    } catch (const int reason) {
        take_back();
        cannot_write(named, reason);
    } catch (...) {
        take_back();
        throw;
    }
    return true;
}

void check_made(const fs::path& path, const std::vector<fs::path>& out_of, bool replace) {
    std::error_code error;
    for (const fs::path& source : out_of)
        if (fs::equivalent(path, source, error))
            throw BadInput(path.string(), "is what this is made from", "give another name");
    if (!replace && fs::exists(fs::symlink_status(path, error)))
        throw BadInput(path.string(), "is there already", "give another name, or --force to replace it");
}

void write_made(const fs::path& path, const std::string& bytes, const std::vector<fs::path>& out_of, bool replace) {
    check_made(path, out_of, replace);
    write_file(path, bytes);
}

std::vector<fs::path> earlier_files(const fs::path& named) {
    const fs::path path = behind_links(named);
    std::vector<fs::path> out;
    std::error_code error;
    for (fs::directory_iterator at(earlier_folder(path), error), end; !error && at != end; at.increment(error))
        if (at->path().extension() == path.extension()) out.push_back(at->path());
    std::ranges::sort(out, std::greater<>(), [](const fs::path& p) { return std::pair(sequence(p), p); });
    return out;
}

std::optional<fs::path> later_file(const fs::path& path) {
    const fs::path folder = fs::absolute(path).parent_path();
    if (folder.extension() != ".earlier") return {};
    return folder.parent_path() / (folder.stem().string() + path.extension().string());
}

void keep_earlier(const fs::path& named, const std::string& bytes) {
    keep(behind_links(named), [&](const fs::path& as) {
        std::error_code error;
        if (fs::exists(as, error)) return false;
        write_file(as, bytes);
        return true;
    });
}

Stamp stamp_of(const fs::path& path) {
    struct stat s {};
    if (::stat(path.c_str(), &s) != 0) return {};
    return {s.st_dev, s.st_ino, static_cast<std::uint64_t>(s.st_size),
            s.st_mtim.tv_sec * 1'000'000'000LL + s.st_mtim.tv_nsec};
}

} // namespace dervish::store

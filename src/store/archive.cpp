#include "store/archive.h"

#include "core/num/bad_input.h"

#include <algorithm>
#include <array>
#include <memory>
#include <zip.h>
#include <zlib.h>

namespace dervish::store {
namespace {
constexpr std::size_t small = 64 << 10; ///< of a member that is not left on disk
constexpr zip_int64_t most_members = 10000;

struct Discard {
    void operator()(zip_t* z) const { zip_discard(z); }
};
using Zip = std::unique_ptr<zip_t, Discard>;

[[noreturn]] void damaged(const std::string& where, const std::string& why) {
    throw BadInput(where, "damaged or not a ZIP (" + why + ")", "open an earlier version beside it");
}

Zip open(zip_source_t* source, int flags) {
    if (!source) damaged("archive", "no memory");
    zip_error_t error;
    zip_error_init(&error);
    Zip zip(zip_open_from_source(source, flags, &error));
    if (!zip) {
        const std::string why = zip_error_strerror(&error);
        zip_error_fini(&error);
        zip_source_free(source);
        damaged("archive", why);
    }
    return zip;
}

/// The archive that ends at `end` of a file.
Zip open(const OpenFile& file, std::size_t end, int flags) {
    return open(zip_source_file_create(file.again().c_str(), 0, static_cast<zip_int64_t>(end), nullptr), flags);
}

/// Below the archive: no way up, none from the root, nothing that another system takes as one.
bool safe(const std::string& name) {
    if (name.empty() || name.front() == '/' || name.find('\\') != std::string::npos) return false;
    for (std::size_t at = 0; at <= name.size();) {
        const std::size_t end = std::min(name.find('/', at), name.size());
        if (name.compare(at, end - at, "..") == 0) return false;
        at = end + 1;
    }
    return true;
}

using ZipFile = std::unique_ptr<zip_file_t, decltype(&zip_fclose)>;

std::string read_member(zip_t* zip, zip_uint64_t index, const std::string& name, std::size_t size) {
    std::string bytes(size, '\0');
    const ZipFile file(zip_fopen_index(zip, index, 0), &zip_fclose);
    if (!file) damaged(name, zip_strerror(zip));
    const zip_int64_t got = zip_fread(file.get(), bytes.data(), bytes.size());
    char one_more;
    if (got != static_cast<zip_int64_t>(bytes.size()) || zip_fread(file.get(), &one_more, 1) != 0)
        damaged(name, "its content does not match its size or checksum");
    return bytes;
}

/// Where it stands in its archive, opened anew.
std::pair<Zip, zip_uint64_t> opened(const Content::Place& at) {
    Zip zip = open(*at.file, at.end, ZIP_RDONLY);
    const zip_int64_t index = zip_name_locate(zip.get(), at.name.c_str(), 0);
    if (index < 0) damaged(at.name, "no longer in " + at.file->path().string());
    return {std::move(zip), static_cast<zip_uint64_t>(index)};
}

/// `file`: on which large members stay, all but `at_once`; null: none does.
Members members_of(zip_t* zip, const std::shared_ptr<const OpenFile>& file, std::size_t end,
                   const std::string& at_once) {
    const zip_int64_t count = zip_get_num_entries(zip, 0);
    if (count > most_members) throw BadInput("archive", std::to_string(count) + " members", "a job has at most 10000");
    Members out;
    std::size_t total = 0;
    for (zip_int64_t i = 0; i < count; ++i) {
        zip_stat_t stat;
        const auto index = static_cast<zip_uint64_t>(i);
        constexpr zip_uint64_t needed = ZIP_STAT_SIZE | ZIP_STAT_NAME | ZIP_STAT_CRC | ZIP_STAT_COMP_SIZE |
                                        ZIP_STAT_COMP_METHOD | ZIP_STAT_ENCRYPTION_METHOD;
        if (zip_stat_index(zip, index, 0, &stat) != 0 || (stat.valid & needed) != needed)
            damaged("archive", "member " + std::to_string(i) + " cannot be read");
        const std::string name = stat.name;
        if (!safe(name)) throw BadInput(name, "an unsafe member name", "a job's members lie below it");
        total += stat.size;
        if (stat.size > largest_member || total > (file ? largest_on_disk : largest_archive))
            throw BadInput(name, "unpacks to more than a job may hold",
                           file ? "at most 128 MiB a member and 2000 MiB in all"
                                : "at most 128 MiB a member and 256 MiB in all");
        Member member{{}, stat.valid & ZIP_STAT_MTIME ? stat.mtime : 0, 0, 3};
        const bool plain = stat.encryption_method == ZIP_EM_NONE &&
                           (stat.comp_method == ZIP_CM_STORE || stat.comp_method == ZIP_CM_DEFLATE);
        if (file && plain && stat.size > small && name != at_once)
            member.content = Content::Place{file, end, name, stat.size, stat.comp_size, stat.crc, stat.comp_method};
        else
            member.content = read_member(zip, index, name, stat.size);
        zip_file_get_external_attributes(zip, index, 0, &member.system, &member.attributes);
        if (!out.emplace(name, std::move(member)).second)
            throw BadInput(name, "stands twice in the archive", "keep one of them");
    }
    return out;
}

std::uint32_t crc_of(std::string_view bytes) {
    return static_cast<std::uint32_t>(::crc32_z(0, reinterpret_cast<const unsigned char*>(bytes.data()), bytes.size()));
}

/// Deflated, as a ZIP has it: the fastest way, since somebody waits for it. Empty where it is hardly smaller: a
/// photograph, which is found out by its beginning.
std::string deflated(std::string_view bytes) {
    const auto packed = [](std::string_view part) {
        z_stream z{};
        if (::deflateInit2(&z, 1, Z_DEFLATED, -MAX_WBITS, 8, Z_DEFAULT_STRATEGY) != Z_OK)
            damaged("archive", "no memory");
        std::string out(::deflateBound(&z, part.size()), '\0');
        z.next_in = const_cast<unsigned char*>(reinterpret_cast<const unsigned char*>(part.data()));
        z.avail_in = static_cast<unsigned>(part.size());
        z.next_out = reinterpret_cast<unsigned char*>(out.data());
        z.avail_out = static_cast<unsigned>(out.size());
        const int done = ::deflate(&z, Z_FINISH);
        out.resize(z.total_out);
        ::deflateEnd(&z);
        if (done != Z_STREAM_END) damaged("archive", "could not be written");
        return out;
    };
    const auto smaller = [](std::string_view part, const std::string& is) {
        return is.size() + part.size() / 32 < part.size();
    };
    const std::string_view head = bytes.substr(0, small);
    std::string out = packed(head);
    if (!smaller(head, out)) return {};
    if (bytes.size() > head.size()) out = packed(bytes);
    return smaller(bytes, out) ? out : std::string();
}

/// Numbers of a ZIP, the lowest byte first.
void put(std::string& to, std::uint64_t value, int bytes) {
    for (int i = 0; i < bytes; ++i) to += static_cast<char>(value >> (8 * i) & 0xFF);
}
std::uint32_t number(std::string_view at, std::size_t from, int bytes) {
    std::uint32_t out = 0;
    for (int i = 0; i < bytes; ++i)
        out |= static_cast<std::uint32_t>(static_cast<unsigned char>(at[from + static_cast<std::size_t>(i)]))
               << (8 * i);
    return out;
}

/// Writes members one after another and the directory of all behind them (ZIP's application note 6.3, 4.3).
class Writer {
public:
    /// Begins where a file has `start` bytes before.
    Writer(const Sink& out, std::size_t start) : out_(out), at_(start) {}

    /// A member that stands there already, by its record in the old directory.
    void keep(std::string_view record) {
        directory_ += record;
        ++count_;
    }
    void add(const std::string& name, const Member& member) {
        const Content& content = member.content;
        std::string bytes, packed;
        std::uint32_t crc = 0;
        std::uint16_t method = ZIP_CM_STORE;
        std::size_t packed_size = 0;
        if (content.in_memory()) {
            bytes = content.bytes();
            crc = crc_of(bytes);
            packed = deflated(bytes);
            method = packed.empty() ? ZIP_CM_STORE : ZIP_CM_DEFLATE;
            packed_size = packed.empty() ? bytes.size() : packed.size();
        } else {
            crc = content.place().crc;
            method = content.place().method;
            packed_size = content.place().packed;
        }
        const std::time_t when = member.modified > 0 ? member.modified : std::time(nullptr);
        std::tm local{};
        ::localtime_r(&when, &local);
        const bool can = local.tm_year >= 80; // as far as ZIP's years go
        std::string both;                     // what the member's own heading and the directory say alike
        put(both, 20, 2);                     // version needed
        put(both, 1u << 11, 2);               // its name is UTF-8
        put(both, method, 2);
        put(both, can ? local.tm_hour << 11 | local.tm_min << 5 | local.tm_sec / 2 : 0, 2);
        put(both, can ? (local.tm_year - 80) << 9 | (local.tm_mon + 1) << 5 | local.tm_mday : 1 << 5 | 1, 2);
        put(both, crc, 4);
        put(both, packed_size, 4);
        put(both, content.size(), 4);
        put(both, name.size(), 2);
        put(both, 0, 2); // nothing extra
        put(directory_, 0x02014b50, 4);
        put(directory_, 20u | static_cast<unsigned>(member.system) << 8, 2);
        directory_ += both;
        put(directory_, 0, 2 + 2 + 2); // no comment, first disk, no kind
        put(directory_, member.attributes, 4);
        put(directory_, at_, 4);
        directory_ += name;
        ++count_;
        std::string head;
        put(head, 0x04034b50, 4);
        write(head + both + name);
        if (!content.in_memory())
            copy(content.place());
        else
            write(packed.empty() ? bytes : packed);
    }
    void finish() {
        std::string end;
        put(end, 0x06054b50, 4);
        put(end, 0, 4);
        put(end, count_, 2);
        put(end, count_, 2);
        put(end, directory_.size(), 4);
        put(end, at_, 4);
        put(end, 0, 2);
        write(directory_ + end);
    }

private:
    void write(std::string_view bytes) {
        at_ += bytes.size();
        if (at_ > 2 * largest_on_disk) throw BadInput("archive", "too large", "take some photographs out");
        out_(bytes);
    }
    /// As it is packed there, and not looked at.
    void copy(const Content::Place& from) {
        const auto [zip, index] = opened(from);
        const ZipFile file(zip_fopen_index(zip.get(), index, ZIP_FL_COMPRESSED), &zip_fclose);
        if (!file) damaged(from.name, zip_strerror(zip.get()));
        std::string piece(1 << 20, '\0');
        for (std::size_t done = 0; done < from.packed;) {
            const zip_int64_t got =
                zip_fread(file.get(), piece.data(), std::min<std::size_t>(piece.size(), from.packed - done));
            if (got <= 0) damaged(from.name, "cannot be read to its end");
            write(std::string_view(piece).substr(0, static_cast<std::size_t>(got)));
            done += static_cast<std::size_t>(got);
        }
    }

    const Sink& out_;
    std::size_t at_, count_ = 0;
    std::string directory_;
};

constexpr std::size_t end_record = 22; ///< bytes, without a comment

/// The records of an archive's directory by their members' names, and how many bytes of the file they account for.
struct Directory {
    std::map<std::string, std::string> records;
    std::size_t live = 0;
};
/// Nothing where the archive is not one that Writer wrote.
std::optional<Directory> directory_of(const OpenFile& file, std::size_t end) {
    if (end < end_record) return {};
    const std::string last = file.read(end - end_record, end_record);
    const std::size_t size = number(last, 12, 4), from = number(last, 16, 4);
    if (number(last, 0, 4) != 0x06054b50 || number(last, 20, 2) != 0 || from + size + end_record != end) return {};
    const std::string all = file.read(from, size);
    Directory out;
    out.live = size + end_record;
    constexpr std::size_t fixed = 46, local = 30;
    for (std::size_t at = 0; at < all.size();) {
        if (at + fixed > all.size() || number(all, at, 4) != 0x02014b50) return {};
        const std::size_t name = number(all, at + 28, 2);
        const std::size_t whole = fixed + name + number(all, at + 30, 2) + number(all, at + 32, 2);
        if (at + whole > all.size() || whole != fixed + name) return {};
        out.live += local + name + number(all, at + 20, 4);
        out.records[all.substr(at + fixed, name)] = all.substr(at, whole);
        at += whole;
    }
    return out;
}

/// An archive of a file, with what may stand behind its end.
struct Opened {
    std::shared_ptr<const OpenFile> file;
    std::size_t end = 0;
    Members members;
};

Opened open_whole(const std::filesystem::path& path, const std::string& at_once) {
    Opened out{std::make_shared<const OpenFile>(path, 2 * largest_on_disk), 0, {}};
    const auto read = [&](std::size_t end) {
        const Zip zip = open(*out.file, end, ZIP_RDONLY | ZIP_CHECKCONS);
        out.members = members_of(zip.get(), out.file, end, at_once);
        out.end = end;
    };
    const std::size_t size = out.file->size();
    try {
        read(size);
        return out;
    } catch (const BadInput&) {
        // A save that was cut short leaves a part of itself behind the end that was there before.
        constexpr std::size_t furthest = 160u << 20, piece = 1u << 20;
        const std::string mark = "PK\5\6";
        int tries = 0;
        for (std::size_t to = size; to > 0 && size - to < furthest && tries < 20;) {
            const std::size_t from = to > piece ? to - piece : 0;
            const std::string bytes = out.file->read(from, std::min(size, to + mark.size()) - from);
            for (std::size_t at = bytes.rfind(mark); at != std::string::npos && tries < 20;
                 at = at == 0 ? std::string::npos : bytes.rfind(mark, at - 1)) {
                const std::size_t end = from + at + end_record;
                if (end >= size || !directory_of(*out.file, end)) continue;
                ++tries;
                try {
                    read(end);
                    return out;
                } catch (const BadInput&) { // not there either
                }
            }
            to = from;
        }
        throw;
    }
}
} // namespace

std::string Content::bytes() const {
    if (memory_) return *memory_;
    try {
        const auto [zip, index] = opened(place_);
        std::string out = read_member(zip.get(), index, place_.name, place_.size);
        if (crc_of(out) != place_.crc) damaged(place_.name, "it has changed since it was opened");
        return out;
    } catch (const BadInput& e) {
        throw e.within(place_.file->path().filename().string());
    }
}

bool Content::operator==(const Content& other) const {
    if (size() != other.size()) return false;
    if (memory_ || other.memory_ ? memory_ == other.memory_ : place_ == other.place_) return true;
    return bytes() == other.bytes();
}

Members unpack(const std::string& bytes) {
    const Zip zip = open(zip_source_buffer_create(bytes.data(), bytes.size(), 0, nullptr), ZIP_RDONLY | ZIP_CHECKCONS);
    return members_of(zip.get(), nullptr, 0, {});
}

Members open_archive(const std::filesystem::path& path, const std::string& at_once) {
    return open_whole(path, at_once).members;
}

std::string pack(const Members& members) {
    std::string out;
    const Sink sink = [&](std::string_view bytes) { out += bytes; };
    Writer writer(sink, 0);
    for (const auto& [name, member] : members) writer.add(name, member);
    writer.finish();
    return out;
}

namespace {
/// Writes what is new behind the archive that stands there. Nothing where it has to be written whole.
bool appended(const std::filesystem::path& path, const Members& members, bool keep_earlier) {
    constexpr std::size_t worth_it = 1u << 20, always_left = 16u << 20;
    std::error_code error;
    if (!std::filesystem::is_regular_file(path, error)) return false;
    std::optional<Opened> there;
    try {
        there = open_whole(path, {});
    } catch (const BadInput&) {
        return false;
    }
    const OpenFile& file = *there->file;
    const auto directory = directory_of(file, there->end);
    if (!directory || there->end != file.size() || directory->live > file.size() || directory->live < worth_it ||
        file.size() - directory->live > always_left + directory->live / 4)
        return false;
    Members is_new, replaced;
    for (const auto& [name, member] : members) {
        const auto old = there->members.find(name);
        if (old == there->members.end() || !(old->second.content == member.content) ||
            !directory->records.contains(name))
            is_new.insert({name, member});
    }
    for (const auto& [name, member] : there->members)
        if (is_new.contains(name)) replaced.insert({name, member});
    if (there->members.size() - replaced.size() + is_new.size() != members.size()) return false; // one is gone
    if (is_new.empty()) return true;
    if (keep_earlier && !replaced.empty()) store::keep_earlier(path, pack(replaced));
    return append_to_file(path, there->end, [&](const Sink& out) {
        Writer writer(out, there->end);
        for (const auto& [name, record] : directory->records)
            if (!replaced.contains(name)) writer.keep(record);
        for (const auto& [name, member] : is_new) writer.add(name, member);
        writer.finish();
    });
}
} // namespace

Members write_archive(const std::filesystem::path& path, const Members& members, bool keep_earlier) {
    if (!appended(path, members, keep_earlier))
        write_file(
            path,
            [&](const Sink& out) {
                Writer writer(out, 0);
                for (const auto& [name, member] : members) writer.add(name, member);
                writer.finish();
            },
            keep_earlier);
    return open_whole(path, {}).members;
}

} // namespace dervish::store

#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "instrument/instrument_profile.h"
#include "trial/bench_event.h"
#include "trial/bench_protocol.h"
#include "trial/bench_session.h"

namespace bq::inline store {

/// What happens on the bench as it stands in the project file (docs/file-format.md), and back.
/// Reading refuses what is out of range with the field's path; fields nobody knows are left alone.
std::string_view kind_of(
    const BenchEventData& data);  ///< "prepared", "gate", "cleaned", "cut", "look", …
std::string bench_event_json(const BenchEventData& data);
Checked<BenchEventData> parse_bench_event(std::string_view kind, std::string_view json);

std::string_view kind_of(const BenchSession& session);  ///< "damage search", "steadiness"
std::string bench_session_json(const BenchSession& session);
/// Id and time are not in the text.
Checked<BenchSession> parse_bench_session(std::string_view kind, std::string_view json);

/// The bench's protocol and its instruments, kept as settings.
inline constexpr const char* kProtocolKey = "bench-protocol";
inline constexpr const char* kInstrumentsKey = "instruments";
std::string protocol_json(const BenchProtocol& protocol);
Checked<BenchProtocol> parse_protocol(std::string_view json);
std::string instruments_json(const std::vector<InstrumentProfile>& profiles);
Checked<std::vector<InstrumentProfile>> parse_instruments(std::string_view json);

/// Samples of a stroke as bytes: whole steps of the resolution, differences of neighbours, variable
/// length, deflated (zlib).
std::string pack_samples(const std::vector<float>& force_N, double resolution_N);
/// Refused: damaged bytes, another number of samples than `count`, more than a million.
Checked<std::vector<float>> unpack_samples(std::string_view bytes, double resolution_N,
                                           std::size_t count);

}  // namespace bq::inline store

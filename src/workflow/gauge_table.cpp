#include "workflow/gauge_table.h"

#include "quantity/said.h"
#include "store/json_fields.h"
#include "workflow/answers.h"

namespace bq::inline workflow {

std::string gauge_study_json(const KeptGaugeStudy& study) {
  nlohmann::json readings = nlohmann::json::array();
  for (const auto& reading : study.readings)
    readings.push_back({reading.part, reading.by_operator, reading.value});
  return compact_text({{"unit", sign_of(study.unit)}, {"readings", readings}});
}

Checked<KeptGaugeStudy> parse_gauge_study(std::string_view json) {
  return read_json<KeptGaugeStudy>(json, [](const JsonFields& f) {
    constexpr std::size_t kMost = 100'000;
    KeptGaugeStudy out;
    const auto unit = parse_unit(f.text("unit"));
    if (!unit) f.fault("unit", unit.refusal().reason);
    out.unit = *unit;
    const auto& list = f.list("readings");
    if (list.size() > kMost) f.fault("readings", said("are more than 100000"));
    for (std::size_t i = 0; i < list.size(); ++i) {
      const auto& item = list[i];
      const std::string path = f.path_of("readings", i);
      if (!item.is_array() || item.size() != 3 || !item[0].is_string() || !item[1].is_string())
        throw JsonFault{said("{path} must be [part, operator, reading]", {{"path", path}})};
      out.readings.push_back({item[0], item[1], number_of(item[2], path, 1e-12, 1e12)});
    }
    return out;
  });
}

std::vector<stats::GaugeReading> gauge_readings_of(const std::string& kept, const Trial& trial) {
  if (const auto study = parse_gauge_study(kept);
      !kept.empty() && study && kind_of(study->unit) == kind_of(trial.unit())) {
    std::vector<stats::GaugeReading> out = study->readings;
    for (auto& reading : out) reading.value = convert(reading.value, study->unit, trial.unit());
    return out;
  }
  return operator_readings(trial);
}

}  // namespace bq::inline workflow

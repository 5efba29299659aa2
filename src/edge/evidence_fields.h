#pragma once

#include "edge/evidence_key.h"
#include "quantity/field.h"

namespace bq::inline edge {

constexpr auto fields_of(Told<EvidenceAnswer>) {
  using R = EvidenceAnswer;
  return std::tuple(field<&R::id>("id").must(), field<&R::text>("text").must(),
                    field<&R::draw>("draw").says("", "one of the program's drawings"));
}
constexpr auto fields_of(Told<EvidenceQuestion>) {
  using R = EvidenceQuestion;
  return std::tuple(
      field<&R::id>("id").must(), field<&R::ask>("ask").must().says("", "the question"),
      field<&R::how>("how").says("", "how to find out, and the caution that belongs to it"),
      field<&R::effort>("effort").word(parse_effort, 3).says("", "what an answer costs the tester"),
      field<&R::known>("known").says("", "a fact that the project may answer it with"),
      field<&R::answers>("answers").says("", "two or more"),
      field<&R::otherwise>("otherwise")
          .says("", "by answer: how often it is given where an outcome says nothing of it"));
}
constexpr auto fields_of(Told<EvidenceOutcome>) {
  using R = EvidenceOutcome;
  return std::tuple(
      field<&R::id>("id").must(), field<&R::name>("name").must(),
      field<&R::draw>("draw").says("", "one of the program's drawings"),
      field<&R::usual>("usual").word(parse_often, 5).says("", "before anything is known"),
      field<&R::act>("do").says("", "in order"), field<&R::avoid>("avoid"),
      field<&R::confirm>("confirm").says("", "the check that confirms it"),
      field<&R::expect>("expect").must().says(
          "", "by question and answer: how often, alone or as [how often, because]"));
}
constexpr auto fields_of(Told<EvidenceKey>) {
  using R = EvidenceKey;
  return std::tuple(field<&R::id>("key").must(), field<&R::title>("title"),
                    field<&R::sure>("sure").within(0.5, 1).says(
                        "", "an outcome is named from this probability on"),
                    field<&R::least_answers>("least_answers").within(0, 20),
                    field<&R::questions>("questions"), field<&R::outcomes>("outcomes"));
}

}  // namespace bq::inline edge

#include <CLI/CLI.hpp>
#include <iostream>

#include "commands.h"
#include "output.h"
#include "quantity/terminal.h"
#include "store/list_table.h"
#include "store/project_file.h"
#include "store/table_template.h"

namespace {

int exit_code_of(bq::StoreProblem problem) {
  switch (problem) {
    case bq::StoreProblem::missing:
    case bq::StoreProblem::busy:
    case bq::StoreProblem::read_only:
    case bq::StoreProblem::disk:
    case bq::StoreProblem::exists:
      return kSystem;
    case bq::StoreProblem::not_a_project:
    case bq::StoreProblem::truncated:
    case bq::StoreProblem::damaged:
    case bq::StoreProblem::newer:
    case bq::StoreProblem::refused:
      break;
  }
  return kRefused;
}

/// What an option may say: `first`, and the names of all kinds that there are.
template <class Kinds>
std::vector<std::string> choices(std::vector<std::string> first, const Kinds& kinds) {
  for (const auto kind : kinds) first.emplace_back(name_of(kind));
  return first;
}

void add_import(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<ImportOptions>();
  auto* command = app.add_subcommand("import", "Creates or extends a project from readings tables");
  command->add_option("PROJECT", options->project, "project file, made when it is not there")
      ->required();
  command->add_option("CSV", options->tables, "readings tables, - for standard input")->required();
  command->add_flag("--skip-bad", options->skip_bad, "take the good rows, report the others");
  command->add_flag("--append", options->append, "add readings to runs the project already has");
  command
      ->add_option(
          "--repeats", options->repeats,
          "with --append, readings that the project has already: skip or keep (refused without)")
      ->check(CLI::IsMember({"skip", "keep"}))
      ->needs("--append");
  command->add_option("--map", options->map,
                      "answers for tables as they are kept: what columns mean, unit, angles, "
                      "decimal sign, grit (JSON)");
  command
      ->add_option("--kind", options->kind,
                   "what the tables hold: readings, a list of blades, stones or pairs, a gauge "
                   "study, force strokes (by their heads)")
      ->check(CLI::IsMember(choices({"readings"}, bq::kListKinds)));
  command->add_option("--sheet", options->sheet, "of a spreadsheet: the sheet that is meant");
  command->add_flag("--dry-run", options->dry_run,
                    "say what each column is taken for and what would come in; write nothing");
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_import(*options); });
}

void add_export(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<ExportOptions>();
  auto* command = app.add_subcommand(
      "export",
      "Writes a project as a readings table, JSON, a workbook or a report, or a run's edge card");
  command->add_option("PROJECT", options->source, "project file or readings table")->required();
  command
      ->add_option(
          "--to", options->target,
          "file to write: .csv, .json, .xlsx, .html or .pdf (report); with --card .html or .pdf")
      ->required();
  auto* card = command->add_option("--card", options->card, "the edge card of this run instead");
  auto* of = command->add_option("--card-of", options->card_of,
                                 "the card of an edge that this blade has had instead");
  of->excludes(card);
  command
      ->add_option("--making", options->making,
                   "which of the blade's edges: 1 as it came, 2 after its first sharpening …; "
                   "default: the present one")
      ->needs(of);
  command
      ->add_flag("--labels", options->labels,
                 "sheets of small labels for blades, runs and stones instead (.pdf)")
      ->excludes(card)
      ->excludes(of);
  command->add_option("--threshold", options->threshold,
                      "at which an edge counts as blunt; default: the project's own");
  command
      ->add_option("--limits", options->limits,
                   "limits and wishes of the verdict in a report or workbook; default: those kept "
                   "on Verdict")
      ->excludes(card)
      ->excludes(of);
  command->add_option("--date", options->date, "day of the report, 2026-11-26; default: today")
      ->excludes(card)
      ->excludes(of);
  command->add_flag("--inclusive", options->inclusive,
                    "angles on the card or in the report inclusive");
  command->callback([options, &exit_code] { exit_code = run_export(*options); });
}

void add_pictures(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<PicturesOptions>();
  auto* command = app.add_subcommand(
      "pictures",
      "Lists a project's micrographs with their measures, writes their files out, or measures a "
      "series of them as a template says");
  command->add_option("PROJECT", options->project)->required();
  command->add_option("--to", options->folder, "folder for the files as they were brought in");
  command->add_flag("--json", options->json, "answer as JSON");
  auto* like = command->add_option("--template", options->like,
                                   "prints the measures of this picture (its id) as a template");
  auto* measure = command->add_option("--measure", options->measure,
                                      "template by which pictures are measured, a JSON file");
  measure->excludes(like);
  command->add_option("--only", options->only, "ids of the pictures to measure (all of edges)")
      ->delimiter(',')
      ->needs(measure);
  command->add_flag("--keep", options->keep, "keeps what was measured in the project")
      ->needs(measure);
  command->callback([options, like, measure, &exit_code] {
    exit_code = like->count() > 0      ? run_measure_template(*options)
                : measure->count() > 0 ? run_measure(*options)
                                       : run_pictures(*options);
  });
}

void add_check(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<CheckOptions>();
  auto* command = app.add_subcommand("check", "Checks a project's integrity, or a rule file");
  command->add_option("PROJECT", options->project, "project, or a rule file (*.json)")->required();
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_check(*options); });
}

void add_salvage(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<SalvageOptions>();
  auto* command = app.add_subcommand(
      "salvage",
      "Takes what can be read of a damaged project into a new one; OLD is never written");
  command->add_option("OLD", options->from, "project that is damaged")->required();
  command->add_option("NEW", options->made, "project to make")->required();
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_salvage(*options); });
}

void add_package(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<PackageOptions>();
  auto* command = app.add_subcommand(
      "package",
      "Writes a project as an open data package: its tables, pictures, methods and answers");
  command->add_option("PROJECT", options->project, "project file")->required();
  command->add_option("--to", options->target, "the package, a .zip")->required();
  command->add_option("--date", options->date, "day it is made, 2026-11-26 (today)");
  command->callback([options, &exit_code] { exit_code = run_package(*options); });
  auto other = std::make_shared<LearnOptions>();
  auto* learn = app.add_subcommand(
      "learn",
      "Takes cards, abrasives, the jig and the bench from another project, with their origin");
  learn->add_option("PROJECT", other->project, "project that learns")->required();
  learn->add_option("--from", other->from, "project that is learned from")->required();
  learn->add_option("--what", other->what, "steels,media,stones,jig,bench (all)")
      ->delimiter(',')
      ->check(CLI::IsMember({"steels", "media", "stones", "jig", "bench"}));
  learn->add_option("--date", other->date, "day it is taken, 2026-11-26 (today)");
  learn->add_flag("--json", other->json, "answer as JSON");
  learn->callback([other, &exit_code] { exit_code = run_learn(*other); });
  auto blank = std::make_shared<TemplateOptions>();
  auto* fill_in = app.add_subcommand(
      "template", "Writes a table to be filled in, with notes and an example row");
  fill_in
      ->add_option("KIND", blank->kind,
                   "readings, run-per-row, blades, stones, pairs, gauge or strokes")
      ->required()
      ->check(CLI::IsMember(choices({}, bq::kTemplateKinds)));
  fill_in->add_option("--to", blank->target, "the table, .ods or .csv")->required();
  fill_in->callback([blank, &exit_code] { exit_code = run_template(*blank); });
  auto look = std::make_shared<VerifyOptions>();
  auto* verify = app.add_subcommand(
      "verify", "Recomputes every answer of a package from its tables and says what differs");
  verify->add_option("PACKAGE", look->package, "the package, a .zip")->required();
  verify->add_flag("--json", look->json, "answer as JSON");
  verify->callback([look, &exit_code] { exit_code = run_verify(*look); });
}

void add_fit(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<FitOptions>();
  auto* command = app.add_subcommand("fit", "Blunting curve of every run and cuts to a threshold");
  command->add_option("SOURCE", options->source, "project, readings table or -")->required();
  command->add_option("--model", options->model,
                      "power, linear, wear-area, two-phase, levelling or best");
  command->add_flag("--robust", options->robust, "Huber loss");
  command->add_option("--threshold", options->threshold,
                      "450gf, 1.2N, or 3x the median fresh reading");
  command->add_option("--bootstrap", options->bootstrap, "refits per run")
      ->check(CLI::Range(1, 1000000));
  command->add_option("--seed", options->seed);
  command->add_option("--run", options->run, "only this run");
  command->add_option("--level", options->level, "of intervals")->check(CLI::Range(0.5, 0.9999));
  command->add_option("--interval", options->interval)->check(CLI::IsMember({"delta", "profile"}));
  command->add_option("--threads", options->threads, "workers of the bootstrap")
      ->check(CLI::Range(1, 1024));
  command->add_flag("--skip-bad", options->skip_bad, "take the good rows, report the others");
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_fit(*options); });
}

void add_life(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<LifeOptions>();
  auto* command = app.add_subcommand("life", "Life model across runs, matching angle or finish");
  command->add_option("SOURCE", options->source, "project, readings table or -")->required();
  command->add_option("--with", options->with,
                      "further trials (projects or tables), looked at together: the trial is a "
                      "random effect, other work is left out");
  command->add_option("--threshold", options->threshold,
                      "450gf, 1.2N, or 3x the median fresh reading");
  command->add_option("--terms", options->terms, "steel,angle,finish and user factors")
      ->delimiter(',');
  command->add_option("--interactions", options->interactions, "steel:angle,…")->delimiter(',');
  auto* angle =
      command->add_option("--match-angle", options->match_angle, "FROM@DEG:TO, degrees per side");
  command->add_option("--match-finish", options->match_finish, "FROM@UM:TO")->excludes(angle);
  command->add_option("--ratio", options->ratio, "life wished as a multiple")
      ->check(CLI::PositiveNumber);
  command->add_option("--level", options->level, "of intervals")->check(CLI::Range(0.5, 0.9999));
  command->add_option("--medium", options->medium, "only runs in this medium");
  command->add_option(
      "--model", options->model,
      "of the blunting curves: power, linear, wear-area, two-phase, levelling or best");
  command->add_flag("--robust", options->robust, "Huber loss in the curve fits");
  command->add_option("--method", options->method,
                      "joint (readings and lives in one model) or two-stage");
  command->add_flag("--fixed-blades", options->fixed_blades,
                    "take runs on one blade for independent (else a random effect of the blade)");
  command->add_flag("--skip-bad", options->skip_bad, "take the good rows, report the others");
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_life(*options); });
}

void add_simulate(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<SimulateOptions>();
  auto* command = app.add_subcommand("simulate", "Readings table from virtual blades");
  command
      ->add_option(
          "FILE", options->recipe,
          "recipe (docs/recipe-format.md) or plan (docs/plan-format.md), - for standard input")
      ->required();
  command->add_option("--seed", options->seed);
  command->callback([options, &exit_code] { exit_code = run_simulate(*options); });
}

void add_plan(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<PlanOptions>();
  auto* command = app.add_subcommand(
      "plan", "Designs a trial: runs in order, checkpoints, budget, what is mixed with what");
  command->add_option("FILE", options->file, "plan (docs/plan-format.md), - for standard input")
      ->required();
  command->add_option("--seed", options->seed, "of order and codes; default: the plan's own");
  command->add_option("--sheet", options->sheet, "also write the run sheet: .csv or .pdf");
  command->add_flag("--open", options->open,
                    "show the combinations in the table even if the plan is blind");
  command->add_flag("--json", options->json, "answer as JSON (combinations are always in it)");
  command->callback([options, &exit_code] { exit_code = run_plan(*options); });

  auto power = std::make_shared<PowerOptions>();
  auto* power_command =
      app.add_subcommand("power", "Chance to see a life ratio between two groups of runs");
  power_command->add_option("--runs", power->runs, "in each group")->required();
  power_command->add_option("--sd", power->sd, "between runs, of ln life")->required();
  power_command->add_option("--ratio", power->ratio, "of the lives")->required();
  power_command->add_option("--level", power->level, "of the two-sided test")
      ->check(CLI::Range(0.5, 0.9999));
  power_command->add_flag("--json", power->json, "answer as JSON");
  power_command->callback([power, &exit_code] { exit_code = run_power(*power); });

  auto rehearsal = std::make_shared<RehearseOptions>();
  auto* rehearse_command = app.add_subcommand(
      "rehearse", "Plays a plan many times on virtual blades: the chance that it answers");
  rehearse_command
      ->add_option("FILE", rehearsal->file, "plan (docs/plan-format.md), - for standard input")
      ->required();
  rehearse_command->add_option("--plays", rehearsal->plays)->check(CLI::Range(1, 1000000));
  rehearse_command->add_option("--seed", rehearsal->seed);
  rehearse_command
      ->add_option("--threads", rehearsal->threads,
                   "workers; default: all cores. The answer is the same for any number")
      ->check(CLI::Range(1, 1024));
  rehearse_command->add_flag("--json", rehearsal->json, "answer as JSON");
  rehearse_command->callback([rehearsal, &exit_code] { exit_code = run_rehearse(*rehearsal); });
}

void add_recommend(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<RecommendOptions>();
  auto* command = app.add_subcommand("recommend", "Ranks tested and interpolated edges by life");
  command->add_option("SOURCE", options->source, "project, readings table or -")->required();
  command->add_option("--limits", options->limits, "what the edge must do (docs/command-line.md)");
  command->add_option("--threshold", options->threshold,
                      "450gf, 1.2N, or 3x; wins over the limits file");
  command->add_flag("--skip-bad", options->skip_bad, "take the good rows, report the others");
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_recommend(*options); });
}

void add_edge_file(CLI::App& app, int& exit_code, const char* name, const char* about,
                   int (*run)(const EdgeFileOptions&)) {
  auto options = std::make_shared<EdgeFileOptions>();
  auto* command = app.add_subcommand(name, about);
  command->add_option("FILE", options->file, "JSON (docs/command-line.md), - for standard input")
      ->required();
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, run, &exit_code] { exit_code = run(*options); });
}

void add_edge(CLI::App& app, int& exit_code) {
  add_edge_file(app, exit_code, "ladder",
                "A sharpening: abrasives, strokes a side, metal, deburring", run_ladder);
  add_edge_file(app, exit_code, "section",
                "Cross-section: facets, thickness, metal removed, weakest place", run_section);
  add_edge_file(app, exit_code, "clamp",
                "Clamp jig: angle along the edge and the best place in the clamp", run_clamp);
  add_edge_file(app, exit_code, "marker", "Marker test: the next touch, or the bevel's angle",
                run_marker);
  auto options = std::make_shared<GritOptions>();
  auto* command =
      app.add_subcommand("grit", "Particle size of a grit designation, or the other way round");
  command
      ->add_option("DESIGNATION", options->words,
                   "P400, F220, \"JIS 1000\", \"ANSI 320\", or a size such as \"12 um\"")
      ->required();
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_grit(*options); });
}

void add_paired(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<PairedOptions>();
  auto* command =
      app.add_subcommand("paired", "Before and after on the same blades: change with its interval");
  command
      ->add_option("CSV", options->table,
                   "blade,before,after and optionally unit; - for standard input")
      ->required();
  command->add_option("--level", options->level, "of the interval")->check(CLI::Range(0.5, 0.9999));
  command->add_flag("--json", options->json, "answer as JSON");
  command->callback([options, &exit_code] { exit_code = run_paired(*options); });
}

void add_studies(CLI::App& app, int& exit_code) {
  const auto add = [&](const char* name, const char* about, const char* columns,
                       int (*run)(const StudyOptions&)) {
    auto* made = app.add_subcommand(name, about);
    auto options = std::make_shared<StudyOptions>();
    made->add_option("CSV", options->table, columns)->required();
    made->add_flag("--json", options->json, "answer as JSON");
    made->callback([options, run, &exit_code] { exit_code = run(*options); });
    return std::pair(made, options);
  };
  add("gauge", "Gauge study: repeatability, reproducibility, parts",
      "part,operator,repeat,reading and optionally unit; - for standard input", run_gauge);
  const auto [damage, options] = add(
      "damage", "Damage bounds of blocks under the roughest use, and the next step",
      "edge_angle,cuts,damaged and optionally damaged_um, of a whole section bevel_deg,bevel_um,"
      "micro_deg,micro_um, and steel,use; - for standard input",
      run_damage);
  damage->add_option("--step", options->step_deg, "degrees steeper after damage; default 2")
      ->check(CLI::Range(0.1, 15.0));
  damage
      ->add_option("--share", options->share,
                   "reach of the new bevel over the damaged thickness; default 0.6")
      ->check(CLI::Range(0.05, 10.0));
  damage
      ->add_option("--bears", options->bears_MPa,
                   "MPa that the steel bears: the load met is reckoned from it")
      ->check(CLI::Range(1.0, 20000.0));
  damage->add_option("--depth", options->depth_mm, "mm of edge that are buried; default 0.08")
      ->check(CLI::Range(0.001, 20.0));
}

void add_demo(CLI::App& app, int& exit_code) {
  auto options = std::make_shared<DemoOptions>();
  auto* command = app.add_subcommand("demo", "Makes a project from a recipe and the table it gave");
  command->add_option("PROJECT", options->project)->required();
  command->add_option("--recipe", options->recipe)->required();
  command->add_option("--readings", options->readings)->required();
  command->add_option("--rack", options->rack, "cards and blades' histories (JSON)");
  command->add_option("--plan", options->plan, "a plan (docs/plan-format.md)");
  command->add_option("--claims", options->claims, "claims with their figures (JSON)");
  command->add_option("--bench", options->bench,
                      "protocol, sessions and check weights of the bench (JSON)");
  command->callback([options, &exit_code] { exit_code = run_demo(*options); });
}

}  // namespace

int main(int argc, char** argv) {
  std::ios::sync_with_stdio(false);
  bq::guard_terminal();
  CLI::App app{"brave-quarry-cli: edge trials without a window"};
  app.set_version_flag("--version", BQ_VERSION);
  app.require_subcommand(1);
  int exit_code = kDone;
  for (auto* add : {add_import, add_export, add_check, add_salvage, add_package, add_pictures,
                    add_fit, add_life, add_simulate, add_plan, add_recommend, add_paired,
                    add_studies, add_edge, add_demo})
    add(app, exit_code);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    // Help and version are answers; everything else is wrong usage.
    return app.exit(error) == 0 ? kDone : kUsage;
  } catch (const CommandEnd& end) {
    say(end.what());
    return end.code();
  } catch (const bq::StoreError& error) {
    say(error.what());
    return exit_code_of(error.problem());
  } catch (const std::bad_alloc&) {
    say("There is not enough memory for this. Nothing was changed.");
    return kSystem;
  }
  return exit_code;
}

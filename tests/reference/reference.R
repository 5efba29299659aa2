# Independent figures for the tests: R's own nlminb, lm and survival::survreg on the same tables.
# usage: Rscript tests/reference/reference.R > tests/reference/reference.txt   (from the project's root)
# Needs Debian's r-base-core and r-cran-survival; the tests only read the text it wrote.
suppressMessages(library(survival))
cat("# made by tests/reference/reference.R with", R.version.string, "and survival",
    as.character(packageVersion("survival")), "\n")
show <- function(set, name, value) cat(set, name, sprintf("%.10g", value), sep = "\t", fill = TRUE)
sets <- list(list(name = "fernmoor", file = "demo/fernmoor.csv", threshold = 450, medium = "rubberised coir mat 8 mm"),
             list(name = "short", file = "tests/data/short_trial.csv", threshold = 400, medium = "coir"),
             list(name = "uncensored", file = "tests/data/uncensored.csv", threshold = 4, medium = "coir"))
fit_power <- function(d) {
  y <- log(d$reading)
  ref <- exp(mean(log(d$cuts[d$cuts > 0])))
  sse <- function(q) sum((y - log(exp(q[1]) + exp(q[2]) * (d$cuts / ref)^exp(q[3])))^2)
  start0 <- mean(d$reading[d$cuts == 0])
  best <- NULL
  for (b in c(0.3, 0.5, 0.8, 1.2)) for (share in c(0.6, 0.98)) {
    f <- nlminb(c(log(start0 * share), log(diff(range(d$reading)) / 2), log(b)), sse,
                control = list(rel.tol = 1e-15, x.tol = 1e-12, eval.max = 5000, iter.max = 5000))
    f <- nlminb(f$par, sse, control = list(rel.tol = 1e-15, x.tol = 1e-12))
    if (is.null(best) || f$objective < best$objective) best <- f
  }
  p <- exp(best$par)
  list(a = p[1], l = p[2] * ref^(-p[3]), e = p[3], sse = best$objective)
}
for (s in sets) {
  d <- read.csv(s$file, check.names = FALSE)
  d <- d[d$medium == s$medium, ]
  rows <- NULL
  for (run in unique(d$run)) {
    one <- d[d$run == run, ]
    p <- fit_power(one)
    last <- max(one$cuts)
    reached <- p[["a"]] + p[["l"]] * last^p[["e"]] >= s$threshold
    life <- if (reached) ((s$threshold - p[["a"]]) / p[["l"]])^(1 / p[["e"]]) else last
    apex <- if ("micro_angle" %in% names(one) && !is.na(one$micro_angle[1])) one$micro_angle[1] else one$edge_angle[1]
    rows <- rbind(rows, data.frame(run = run, life = life, event = as.integer(reached), steel = one$steel[1],
                                   x = log(tan(apex * pi / 180)), finish = log(one$finish_um[1])))
    show(s$name, paste0("sse:", run), p$sse)
    show(s$name, paste0(if (reached) "life:" else "more:", run), life)
  }
  m <- survreg(Surv(life, event) ~ steel + x + finish, rows, dist = "lognormal",
               control = survreg.control(rel.tolerance = 1e-12, maxiter = 200))
  show(s$name, "sigma_ml", m$scale)
  show(s$name, "loglik", m$loglik[2] + sum(log(rows$life[rows$event == 1])))  # of ln life
  for (i in seq_along(coef(m))) show(s$name, paste0("coef:", names(coef(m))[i]), coef(m)[i])
  n <- nrow(rows); p <- length(coef(m))
  # with variance * n/(n - p), as the program states
  for (i in seq_along(coef(m))) show(s$name, paste0("se:", names(coef(m))[i]), sqrt(vcov(m)[i, i] * n / (n - p)))
  if (all(rows$event == 1)) {
    l <- lm(log(life) ~ steel + x + finish, rows)
    show(s$name, "lm_sigma", summary(l)$sigma)
    ci <- confint(l)
    for (i in seq_along(coef(l))) {
      show(s$name, paste0("lm_low:", names(coef(l))[i]), ci[i, 1])
      show(s$name, paste0("lm_high:", names(coef(l))[i]), ci[i, 2])
    }
  }
  i <- survreg(Surv(life, event) ~ steel * x + finish, rows, dist = "lognormal",
               control = survreg.control(rel.tolerance = 1e-12, maxiter = 200))
  for (k in seq_along(coef(i))) show(s$name, paste0("inter:", names(coef(i))[k]), coef(i)[k])
}

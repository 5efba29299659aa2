# Lives of runs and everything across them by one nonlinear mixed model of all readings (R 4.2.2,
# nlme 3.1-162), to compare the program's model of readings and lives with. Run in this folder:
#   Rscript joint.R            makes the tables joint_1.csv to joint_3.csv and joint.txt
#   Rscript joint.R TABLE.csv [means|readings]
#                              fits one table with columns run,steel,edge_angle,cuts,reading: the
#                              means of the checkpoints, or all readings; prints seconds
# Readings rise as r0 + (T - r0)(n/L)^b in the first two tables; in the third as the root of a worn
# area, which the same model has to make do with. Runs that did not reach the limit need nothing of
# their own here: their readings say what is known of L.
suppressMessages(library(nlme))
LIMIT <- 300

model <- function(n, lL, lr0, lb) {
  r0 <- exp(lr0)
  share <- ifelse(n > 0, exp(exp(lb) * (log(pmax(n, 1e-9)) - lL)), 0)
  log(pmax(r0 + (LIMIT - r0) * share, 1e-6))
}

# Every checkpoint has as many readings, so their mean is all that they say of the curve, and its
# scatter is that of the checkpoint with that of its readings.
fit_table <- function(d, means = TRUE) {
  d$y <- log(d$reading)
  if (means) d <- aggregate(y ~ run + steel + edge_angle + cuts, d, mean)
  d$second <- as.numeric(d$steel == "Marl")
  d$x <- log(tan(d$edge_angle * pi / 180) / tan(15 * pi / 180))
  d$run <- factor(d$run)
  d$place <- factor(paste(d$run, d$cuts))
  # Readings of one checkpoint share its deviation: alike within it.
  d <- d[order(d$run, d$place), ]
  nlme(y ~ model(cuts, lL, lr0, lb), data = d,
       fixed = list(lL ~ second + x, lr0 ~ 1, lb ~ 1),
       random = pdDiag(lL + lr0 + lb ~ 1), groups = ~run,
       correlation = if (means) NULL else corCompSymm(form = ~ 1 | run/place),
       start = c(log(500), 0, -1, log(100), log(0.7)), method = "REML",
       control = nlmeControl(maxIter = 100, pnlsMaxIter = 20, msMaxIter = 100, returnObject = TRUE))
}

make_table <- function(seed, stopped, worn) {
  set.seed(seed)
  runs <- 24
  d <- NULL
  angle <- 12 + 3 * ((0:(runs - 1)) %/% 2) %% 3
  second <- (0:(runs - 1)) %% 2
  lL <- log(500) + 0.25 * second - log(tan(angle * pi / 180) / tan(15 * pi / 180)) + rnorm(runs, 0, 0.25)
  stop_at <- if (stopped > 0) exp(sort(lL)[floor((1 - stopped) * runs)]) * 1.001 else exp(max(lL)) * 1.15
  for (i in seq_len(runs)) {
    r0 <- 100 * exp(rnorm(1, 0, 0.1))
    b <- 0.7 * exp(rnorm(1, 0, 0.12))
    cuts <- c(0, round(stop_at * 2^(0.9 * (-6:0))))
    u <- cuts / exp(lL[i])
    truth <- if (worn) sqrt(r0^2 + (LIMIT^2 - r0^2) * u) else r0 + (LIMIT - r0) * u^b
    for (k in seq_along(cuts)) {
      deviation <- rnorm(1, 0, 0.05)
      d <- rbind(d, data.frame(run = paste0("r", i), steel = if (second[i]) "Marl" else "Cairn",
                               edge_angle = angle[i], cuts = cuts[k], unit = "gf",
                               reading = round(truth[k] * exp(deviation + rnorm(3, 0, 0.05)), 2)))
    }
  }
  d
}

say <- function(name, fit) {
  t <- summary(fit)$tTable
  cat(name, sprintf("%.5f", c(t["lL.second", 1:2], t["lL.x", 1:2], t["lL.(Intercept)", 1:2])), "\n")
}

arguments <- commandArgs(trailingOnly = TRUE)
if (length(arguments) > 0) {
  d <- read.csv(arguments[1])
  means <- !(length(arguments) > 1 && arguments[2] == "readings")
  taken <- system.time(fit <- fit_table(d, means))[["elapsed"]]
  say("nlme", fit)
  cat("seconds", taken, "\n")
} else {
  sink("joint.txt")
  cat("# table, steel[Marl] and SE, ln tan angle and SE, ln life of Cairn at 15 degrees and SE\n")
  for (i in 1:3) {
    d <- make_table(40 + i, c(0, 0.35, 0.3)[i], i == 3)
    write.csv(d, paste0("joint_", i, ".csv"), row.names = FALSE, quote = FALSE)
    say(paste0("joint_", i), fit_table(d))
  }
  sink()
}

# Independent figures for the random blade effect, the gauge study and the damage bounds: base R only (optim, aov, binom).
# usage: Rscript tests/reference/blades.R > tests/reference/blades.txt   (from the project's root)
cat("# made by tests/reference/blades.R with", R.version.string, "\n")
show <- function(set, name, value) cat(set, name, sprintf("%.10g", value), sep = "\t", fill = TRUE)
# A made-up table: 8 blades of two steels, 3 runs each at several angles; y is ln life.
blade <- rep(1:8, each = 3)
steel <- as.integer(blade > 4)
x <- rep(c(-1.6, -1.35, -1.1), 8) + rep(c(0, 0.05, -0.05, 0.1), each = 6)
shift <- c(0.21, -0.17, 0.05, -0.08, -0.24, 0.19, 0.02, 0.11)[blade]
noise <- c(.05, -.11, .02, .08, -.03, -.06, .01, .10, -.09, -.02, .04, .07, -.12, .03, .06, -.05, .09, -.01, -.07, .02, .11, -.04, .08, -.10)
y <- round(5.2 + 0.35 * steel - 1.1 * x + shift + noise, 4)
fits <- function(name, upper) {
  censored <- y > upper
  bound <- pmin(y, upper)
  log_inside_grid <- function(i, mu, s, tau, u) {
    l <- dnorm(u, log = TRUE)
    for (k in i) l <- l + if (censored[k]) pnorm(bound[k], mu[k] + tau * u, s, lower.tail = FALSE, log.p = TRUE) else dnorm(bound[k], mu[k] + tau * u, s, log = TRUE)
    l
  }
  minus <- function(q) {
    mu <- q[1] + q[2] * steel + q[3] * x
    s <- exp(q[4]); tau <- exp(q[5])
    total <- 0
    for (b in 1:8) {
      i <- which(blade == b)
      u <- seq(-10, 10, length.out = 20001)  # trapezoid on a fine grid
      l <- log_inside_grid(i, mu, s, tau, u)
      top <- max(l)
      total <- total + top + log(sum(exp(l - top)) * (u[2] - u[1]))
    }
    -total
  }
  start <- c(coef(lm(bound ~ steel + x)), log(0.1), log(0.15))
  f <- optim(start, minus, method = "BFGS", control = list(reltol = 1e-14, maxit = 500, ndeps = rep(1e-5, 5)))
  f <- optim(f$par, minus, method = "Nelder-Mead", control = list(reltol = 1e-15, maxit = 5000))
  f <- optim(f$par, minus, method = "BFGS", control = list(reltol = 1e-15, maxit = 500, ndeps = rep(1e-5, 5)))
  h <- optimHess(f$par, minus, control = list(ndeps = rep(2e-4, 5)))
  v <- solve(h)
  for (k in 1:3) show(name, paste0("coef", k - 1), f$par[k])
  for (k in 1:3) show(name, paste0("var", k - 1), v[k, k])
  show(name, "sigma", exp(f$par[4])); show(name, "tau", exp(f$par[5])); show(name, "loglik", -f$value)
}
fits("blades", Inf)
fits("blades_censored", 7.0)
# Gauge study: 5 parts x 3 operators x 2 repeats, sums of squares by aov.
value <- c(102, 104, 99, 101, 105, 106, 88, 87, 85, 88, 90, 91, 120, 118, 117, 116, 122, 125, 95, 97, 93, 92, 99, 98, 110, 113, 108, 107, 112, 114)
part <- factor(rep(1:5, each = 6)); operator <- factor(rep(rep(1:3, each = 2), 5))
gauge <- function(name, value) {
  a <- summary(aov(value ~ part * operator))[[1]]
  ms <- a[["Mean Sq"]]; p <- a[["Pr(>F)"]][3]
  if (p < 0.25) { e <- ms[4]; inter <- max(0, (ms[3] - ms[4]) / 2); below <- ms[3] }
  else { e <- sum(a[["Sum Sq"]][3:4]) / sum(a[["Df"]][3:4]); inter <- 0; below <- e }
  op <- max(0, (ms[2] - below) / 10); pa <- max(0, (ms[1] - below) / 6)
  show(name, "repeatability", sqrt(e)); show(name, "reproducibility", sqrt(op + inter)); show(name, "interaction", sqrt(inter))
  show(name, "part", sqrt(pa)); show(name, "p", p); show(name, "study", 100 * sqrt((e + op + inter) / (e + op + inter + pa)))
}
gauge("gauge", value)
gauge("gauge_interaction", value + c(0, 0, 6, 6, 0, 0, 0, 0, -6, -6, 0, 0, 5, 5, 0, 0, 0, 0, 0, 0, 5, 5, -5, -5, 0, 0, -4, -4, 4, 4))
# Damage: exact upper limits.
show("damage", "clean200", 1 - 0.05^(1 / 200))
show("damage", "3of8x50", 1 - (1 - binom.test(3, 8, alternative = "less")$conf.int[2])^(1 / 50))
# Damage regression: blocks that say "at least one", complementary log-log with ln cuts as offset.
angle <- c(9, 9, 11, 11, 13, 13, 13, 15, 15, 15, 18, 18, 18, 22)
cuts <- c(40, 60, 40, 80, 40, 120, 300, 40, 300, 600, 300, 600, 1200, 1200)
hit <- c(1, 1, 1, 0, 0, 1, 1, 0, 0, 1, 0, 1, 0, 0)
g <- glm(hit ~ log(tan(angle * pi / 180)), family = binomial(link = "cloglog"), offset = log(cuts), control = glm.control(epsilon = 1e-14, maxit = 200))
v <- vcov(g)
show("trend", "intercept", coef(g)[1]); show("trend", "slope", coef(g)[2]); show("trend", "loglik", as.numeric(logLik(g)))
show("trend", "var0", v[1, 1]); show("trend", "cov", v[1, 2]); show("trend", "var1", v[2, 2])
p <- predict(g, data.frame(angle = 14, cuts = 1), se.fit = TRUE)
show("trend", "rate14", exp(p$fit)); show("trend", "high14", exp(p$fit + qnorm(0.975) * p$se.fit))
# Paired: ln(after/before).
before <- c(181, 164, 175, 202, 158, 190, 171, 166); after <- c(150, 149, 168, 171, 150, 193, 152, 140)
t <- t.test(log(after / before))
show("paired", "ratio", exp(t$estimate)); show("paired", "low", exp(t$conf.int[1])); show("paired", "high", exp(t$conf.int[2]))
show("paired", "t", t$statistic); show("paired", "p", t$p.value)
show("paired", "signed_rank_p", wilcox.test(log(after / before), exact = TRUE)$p.value)

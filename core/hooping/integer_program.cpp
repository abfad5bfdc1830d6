#include "integer_program.h"

#include <glpk.h>

#include <cmath>

namespace rt {

/// Owns the solver's object.
class Problem {
 public:
  explicit Problem(const IntegerProgram& from) : p_(glp_create_prob()) {
    glp_term_out(GLP_OFF);
    glp_set_obj_dir(p_, GLP_MIN);
    glp_add_cols(p_, static_cast<int>(from.costs_.size()));
    for (size_t c = 0; c < from.costs_.size(); ++c) {
      const int at = static_cast<int>(c) + 1;
      glp_set_obj_coef(p_, at, from.costs_[c]);
      glp_set_col_bnds(p_, at, GLP_DB, 0, from.most_[c]);
      if (from.whole_[c]) glp_set_col_kind(p_, at, GLP_IV);
    }
    if (!from.rows_.empty()) glp_add_rows(p_, static_cast<int>(from.rows_.size()));
    std::vector<int> columns{0};
    std::vector<double> values{0};
    for (size_t r = 0; r < from.rows_.size(); ++r) {
      const IntegerProgram::Row& row = from.rows_[r];
      glp_set_row_bnds(p_, static_cast<int>(r) + 1, kind(row), row.low, row.high);
      columns.resize(1), values.resize(1);
      for (const auto& [column, value] : row.terms)
        columns.push_back(column + 1), values.push_back(value);
      glp_set_mat_row(p_, static_cast<int>(r) + 1, static_cast<int>(row.terms.size()),
                      columns.data(), values.data());
    }
  }
  ~Problem() { glp_delete_prob(p_); }
  Problem(const Problem&) = delete;
  Problem& operator=(const Problem&) = delete;
  glp_prob* get() const { return p_; }

 private:
  static int kind(const IntegerProgram::Row& row) {
    if (std::isinf(row.low)) return std::isinf(row.high) ? GLP_FR : GLP_UP;
    if (std::isinf(row.high)) return GLP_LO;
    return row.low == row.high ? GLP_FX : GLP_DB;
  }
  glp_prob* p_;
};

int IntegerProgram::column(double cost, bool whole, double most) {
  costs_.push_back(cost);
  whole_.push_back(whole);
  most_.push_back(most);
  return static_cast<int>(costs_.size()) - 1;
}

void IntegerProgram::row(double low, double high, std::vector<std::pair<int, double>> terms) {
  rows_.push_back({low, high, std::move(terms)});
}

std::optional<double> IntegerProgram::relaxed() const {
  const Problem problem(*this);
  glp_smcp how;
  glp_init_smcp(&how);
  how.msg_lev = GLP_MSG_OFF;
  how.presolve = GLP_ON;
  how.meth = GLP_DUALP;
  how.it_lim = 40000;
  if (glp_simplex(problem.get(), &how) != 0 || glp_get_status(problem.get()) != GLP_OPT)
    return std::nullopt;
  return glp_get_obj_val(problem.get());
}

namespace {

struct Branching {
  int left = 0;
  const Watch* watch = nullptr;
  Go go = Go::On;
};

void onBranch(glp_tree* tree, void* info) {
  auto& b = *static_cast<Branching*>(info);
  if (glp_ios_reason(tree) == GLP_IROWGEN && *b.watch) b.go = (*b.watch)({0, "seeking fields"});
  if (glp_ios_reason(tree) == GLP_ISELECT && --b.left < 0) glp_ios_terminate(tree);
  if (b.go != Go::On) glp_ios_terminate(tree);
}

}  // namespace

IntegerProgram::Solution IntegerProgram::solve(int most_branches, const Watch& watch) const {
  const Problem problem(*this);
  Branching branching{most_branches, &watch, Go::On};
  glp_iocp how;
  glp_init_iocp(&how);
  how.msg_lev = GLP_MSG_OFF;
  how.presolve = GLP_ON;
  how.br_tech = GLP_BR_DTH;
  how.bt_tech = GLP_BT_BLB;
  how.mir_cuts = GLP_ON;  // of the solver's cuts the ones that close covers of the plane
  how.tm_lim = 4000;      // a backstop for programs whose single steps are long, ms
  how.cb_func = onBranch;
  how.cb_info = &branching;
  const int rc = glp_intopt(problem.get(), &how);
  if (branching.go == Go::Stop) throw Stopped();
  if (rc == GLP_ENOPFS) return {Outcome::None, {}, 0};
  const int status = glp_mip_status(problem.get());
  if (rc == 0 && status == GLP_NOFEAS) return {Outcome::None, {}, 0};
  Solution out;
  if (status != GLP_OPT && status != GLP_FEAS) return out;
  out.outcome = rc == 0 && status == GLP_OPT ? Outcome::Best : Outcome::Good;
  for (size_t c = 0; c < costs_.size(); ++c)
    out.values.push_back(glp_mip_col_val(problem.get(), static_cast<int>(c) + 1));
  out.cost = glp_mip_obj_val(problem.get());
  return out;
}

}  // namespace rt

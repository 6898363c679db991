from django.apps import AppConfig


class PlannerConfig(AppConfig):
    name = "planner"

    def ready(self) -> None:
        from garage import file, inhand
        from planner import board as ours
        from planner import parts, queries
        from shell import board

        file.load_with(ours.load, "has_choice")
        inhand.provide(queries.provide_in_hand, queries.provide_judged, parts.provide_place)
        board.put_cell("gap", ours.gap_cell)
        board.put_cell("mass", ours.mass_cell)
        board.put_cell("money", ours.money_cell)
        board.put_cell("ready", ours.ready_cell)
        board.put_stage("plan", "plan", ours.share_planned)

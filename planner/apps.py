from django.apps import AppConfig


class PlannerConfig(AppConfig):
    name = "planner"

    def ready(self) -> None:
        from planner import board as ours
        from shell import board

        board.put_name(ours.name_in_hand)
        board.put_cell("gap", ours.gap_cell)
        board.put_cell("mass", ours.mass_cell)
        board.put_cell("money", ours.money_cell)
        board.put_cell("ready", ours.ready_cell)
        board.put_stage("plan", "plan", ours.share_planned)

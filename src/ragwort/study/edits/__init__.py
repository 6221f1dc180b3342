"""What a user can do to a study. Each function returns an `Edit`: the new study and the name that undo shows."""

from ragwort.study.edits.aims import (
    add_aim,
    aim_beside,
    carried_values,
    change_design,
    delete_aim,
    duplicate_aim,
    move_aim,
    new_aim,
    rename_aim,
)
from ragwort.study.edits.common import LONGEST_NAME, short_name, typing
from ragwort.study.edits.evidence import MOST_SAID, PILOT_FILE, PILOT_GAVE, as_typed, read_inputs, use_evidence
from ragwort.study.edits.pictures import (
    choose_for_picture,
    keep_draft_of_end,
    reset_ends,
    set_end,
    set_family_values,
    steering,
)
from ragwort.study.edits.points import drag_over, drag_to_step
from ragwort.study.edits.scenarios import delete_scenario, keep_scenario, rename_scenario, return_to_scenario
from ragwort.study.edits.so_far import SO_FAR, SO_FAR_NAME, set_so_far, so_far_fault, type_so_far
from ragwort.study.edits.values import (
    confirm,
    drop_draft,
    range_fault,
    rescale,
    rescaled,
    set_remark,
    set_value,
    type_range,
    type_value,
)
from ragwort.study.edits.ways import choose_way, move_flower
from ragwort.study.edits.whole import LIMIT, limit_fault, retitle, set_study, type_limit
from ragwort.study.edits.words import finish, rename, set_words, type_names

__all__ = [
    "LIMIT",
    "LONGEST_NAME",
    "MOST_SAID",
    "PILOT_FILE",
    "PILOT_GAVE",
    "SO_FAR",
    "SO_FAR_NAME",
    "add_aim",
    "aim_beside",
    "as_typed",
    "carried_values",
    "change_design",
    "choose_for_picture",
    "choose_way",
    "confirm",
    "delete_aim",
    "delete_scenario",
    "drag_over",
    "drag_to_step",
    "drop_draft",
    "duplicate_aim",
    "finish",
    "keep_draft_of_end",
    "keep_scenario",
    "limit_fault",
    "move_aim",
    "move_flower",
    "new_aim",
    "range_fault",
    "read_inputs",
    "rename",
    "rename_aim",
    "rename_scenario",
    "rescale",
    "rescaled",
    "reset_ends",
    "retitle",
    "return_to_scenario",
    "set_end",
    "set_family_values",
    "set_remark",
    "set_so_far",
    "set_study",
    "set_value",
    "set_words",
    "short_name",
    "so_far_fault",
    "steering",
    "type_limit",
    "type_names",
    "type_range",
    "type_so_far",
    "type_value",
    "typing",
    "use_evidence",
]

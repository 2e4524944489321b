"""Random edits through the window, short for `bench/soak.py`: no fault is met, and undoing all gives back what was opened."""

from tests.soaking import Soak
from under_lattice.ui.window.faults import faults_file


def test_whatever_is_done_no_fault_is_met_and_all_can_be_undone(qtbot, window, caplog):
    soak = Soak(window, 2)
    soak.open_work()
    window.show()
    soak.meter.passes(0.3)
    for _ in range(60):
        soak.step(settle=0.02)
    assert not faults_file().exists(), faults_file().read_text()
    assert not caplog.records, caplog.text  # a job that failed is logged
    document = window.document
    opened = document.moments[0].design
    document.go_to(0)
    assert document.design == opened
    assert len(soak.done) > 5

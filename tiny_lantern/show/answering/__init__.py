"""Inputs and rules as one state machine in whole numbers, the same in the program and in the code for boards."""

"""
What a person can do with builds: each action one module, each leaving a revision or a clear
refusal.
"""

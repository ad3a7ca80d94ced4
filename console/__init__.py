"""The console command."""

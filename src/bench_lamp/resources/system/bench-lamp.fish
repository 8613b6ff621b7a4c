# Completion of bench-lamp for fish.
complete -c bench-lamp -l demo -d 'Try it on a copy of the demo data'
complete -c bench-lamp -l data -r -a '(__fish_complete_directories)' -d 'Use the journal in this folder'
complete -c bench-lamp -l schema -r -d 'Write the JSON Schema of profiles'
complete -c bench-lamp -l screenshots -r -a '(__fish_complete_directories)' -d 'Draw the main views'
complete -c bench-lamp -l version -d 'Print the versions'
complete -c bench-lamp -l help -d 'Print the options'
complete -c bench-lamp -n __fish_use_subcommand -a check -d 'Print the errors of profiles'
complete -c bench-lamp -n __fish_use_subcommand -a doctor -d 'Say what is wrong'

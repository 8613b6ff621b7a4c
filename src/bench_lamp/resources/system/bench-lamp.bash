# Completion of bench-lamp for bash.
_bench_lamp() {
    local current=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD - 1]}
    COMPREPLY=()
    case $before in
        --data | --screenshots)
            mapfile -t COMPREPLY < <(compgen -d -- "$current")
            return
            ;;
        --schema)
            mapfile -t COMPREPLY < <(compgen -f -- "$current")
            return
            ;;
    esac
    local words="--demo --data --practice --schema --screenshots --version --help"
    if ((COMP_CWORD == 1)); then
        words="$words backup check doctor menu restore stand-in"
    elif [[ ${COMP_WORDS[1]} == doctor || ${COMP_WORDS[1]} == backup ]]; then
        words="--data"
    elif [[ ${COMP_WORDS[1]} == restore ]]; then
        mapfile -t COMPREPLY < <(
            compgen -W "--data --yes" -- "$current"
            compgen -f -X '!*.benchbackup' -- "$current"
            compgen -d -S / -- "$current"
        )
        return
    elif [[ ${COMP_WORDS[1]} == stand-in ]]; then
        words="hand-held meter counter scope supply load"
    elif [[ ${COMP_WORDS[1]} == menu ]]; then
        words="--remove"
    elif [[ ${COMP_WORDS[1]} == check ]]; then
        words=""
    fi
    mapfile -t COMPREPLY < <(
        compgen -W "$words" -- "$current"
        compgen -f -X '!*.board.yaml' -- "$current"
        compgen -d -S / -- "$current"
    )
}
complete -o nospace -F _bench_lamp bench-lamp

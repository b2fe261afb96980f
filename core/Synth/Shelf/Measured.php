<?php

namespace Pestle\Core\Synth\Shelf;

/** How bright and how long the sounds of the shelf are, measured (a test measures them again): what they are found by beside their names. */
final class Measured
{
    /** Of the middle note at a strength of 90, held for a second: centre of its spectrum in Hz, and seconds until it is 30 dB softer. */
    public const SOUNDS = [
        'cellar-jar' => [158, 1.05],
        'under-the-stairs' => [60, 1.07],
        'drain' => [172, 1.07],
        'boiler' => [196, 1.10],
        'manhole' => [63, 1.07],
        'night-tram' => [170, 1.12],
        'rubber-boot' => [129, 0.23],
        'copper-wire' => [124, 0.62],
        'wet-sand' => [56, 1.05],
        'iron-gate' => [326, 1.03],
        'accordion-belly' => [117, 1.07],
        'tape-bass' => [70, 1.07],
        'elastic' => [202, 1.07],
        'under-the-bridge' => [134, 1.10],
        'spoon-drawer' => [660, 1.10],
        'back-room' => [422, 1.07],
        'chapel-window' => [701, 1.12],
        'coin-organ' => [1323, 1.07],
        'frost' => [780, 1.30],
        'felt-hammers' => [793, 1.00],
        'bar-piano' => [1437, 1.00],
        'reed-keys' => [463, 1.12],
        'music-box' => [815, 0.60],
        'hall-organ' => [818, 1.18],
        'toy-keys' => [578, 0.25],
        'glass-harp' => [762, 1.48],
        'canteen-organ' => [587, 1.10],
        'clothesline' => [1075, 0.38],
        'rain-gutter' => [404, 0.18],
        'chopsticks' => [391, 0.10],
        'wok-ring' => [1160, 0.30],
        'button-box' => [926, 0.25],
        'fishing-line' => [2725, 0.23],
        'rubber-band' => [652, 0.20],
        'drops' => [255, 0.15],
        'tin-lid' => [3050, 0.15],
        'clay-pot' => [422, 0.12],
        'sparks' => [1690, 0.20],
        'bell-cart' => [1116, 0.93],
        'uneven-tines' => [373, 0.33],
        'steam-on-glass' => [1361, 1.62],
        'wet-awning' => [1311, 1.60],
        'dawn-market' => [1507, 1.62],
        'fog-over-rails' => [868, 1.53],
        'slow-bell' => [519, 1.65],
        'smoke' => [457, 1.62],
        'paper-lantern' => [1410, 1.50],
        'cold-harbour' => [1955, 1.65],
        'breath-choir' => [599, 1.55],
        'tape-strings' => [1855, 1.33],
        'under-water' => [526, 1.65],
        'glass-roof' => [898, 1.65],
        'wet-choir' => [2080, 1.65],
        'last-bus' => [529, 1.65],
        'shutter' => [3599, 0.23],
        'ticket-punch' => [3102, 0.18],
        'brass-kettle' => [1807, 0.40],
        'van-door' => [871, 0.25],
        'tin-horns' => [1602, 0.35],
        'organ-kick' => [712, 0.20],
        'glass-stab' => [1580, 0.28],
        'offbeat-skank' => [2172, 0.10],
        'chord-lamp' => [2121, 0.30],
        'tin-flute' => [1197, 1.10],
        'kettle-whistle' => [4237, 1.10],
        'neon' => [2799, 1.10],
        'overhead-line' => [2541, 1.10],
        'saw-song' => [573, 1.15],
        'street-clarinet' => [1337, 1.07],
        'cheap-radio' => [3898, 1.07],
        'glass-voice' => [1119, 1.12],
        'fat-needle' => [3584, 1.12],
        'whirr' => [1030, 1.10],
        'jaw-wire' => [1487, 1.05],
        'pipe-steam' => [2959, 1.28],
        'gravel' => [4804, 0.10],
        'far-traffic' => [425, 1.65],
        'rain-sheet' => [10677, 1.43],
        'match' => [6625, 0.28],
        'falling-pipe' => [4699, 1.05],
        'wire-hum' => [881, 1.20],
    ];
    private const DARK_HZ = 400;
    private const BRIGHT_HZ = 1600;
    private const SHORT_SECONDS = 0.5;
    private const LONG_SECONDS = 1.3;
    public const BRIGHTNESS = ['dark', 'middling', 'bright'];
    public const LENGTHS = ['short', 'held', 'long'];

    public static function brightness(string $id): string
    {
        $hz = self::SOUNDS[$id][0] ?? 0;

        return self::BRIGHTNESS[(int) ($hz >= self::DARK_HZ) + (int) ($hz >= self::BRIGHT_HZ)];
    }

    public static function length(string $id): string
    {
        $seconds = self::SOUNDS[$id][1] ?? 0.0;

        return self::LENGTHS[(int) ($seconds >= self::SHORT_SECONDS) + (int) ($seconds >= self::LONG_SECONDS)];
    }
}

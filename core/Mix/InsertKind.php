<?php

namespace Pestle\Core\Mix;

/** What can be put into the way of a line's sound. */
enum InsertKind: string
{
    case Equalizer = 'equalizer';
    case Compressor = 'compressor';
    case Gate = 'gate';
    case Limiter = 'limiter';
    case Ducker = 'ducker';
    case Transients = 'transients';
    case Saturation = 'saturation';
    case Harmonics = 'harmonics';
    case OldConverter = 'old-converter';
    case Filter = 'filter';
    case Chorus = 'chorus';
    case Phaser = 'phaser';
    case Tremolo = 'tremolo';
    case Delay = 'delay';
    case Reverb = 'reverb';
    case Stereo = 'stereo';

    public function label(): string
    {
        return match ($this) {
            self::Equalizer => 'EQ',
            self::OldConverter => 'Old converter',
            default => ucfirst($this->value),
        };
    }

    /** What it is for. */
    public function about(): string
    {
        return match ($this) {
            self::Equalizer => 'bands louder or softer: tone',
            self::Compressor => 'holds loud and soft together',
            self::Gate => 'lets only through what is loud enough',
            self::Limiter => 'nothing above a ceiling',
            self::Ducker => 'steps back while another sound plays',
            self::Transients => 'attacks and tails, each louder or softer',
            self::Saturation => 'overtones: warm, folded or hard',
            self::Harmonics => 'overtones of highs or lows, added',
            self::OldConverter => 'few bits, low rate',
            self::Filter => 'sweeps by itself or with loudness',
            self::Chorus => 'doubled and moved: chorus, flanger, vibrato',
            self::Phaser => 'notches that wander',
            self::Tremolo => 'level, place or ring in movement',
            self::Delay => 'echoes in time',
            self::Reverb => 'a room around it',
            self::Stereo => 'width, mono lows, balance',
        };
    }

    /** Steps for which what moves of it is set at once: to set what holds much of its past costs as much as many steps of it. */
    public function stepsAtOnce(): int
    {
        return match ($this) {
            self::Reverb => 16,
            self::Delay, self::Chorus, self::Phaser, self::Tremolo => 4,
            default => 1,
        };
    }

    /** Whether it adds up dry and wet itself, as what is dry is a part of how it sounds. */
    public function mixesItself(): bool
    {
        return \in_array($this, [self::Saturation, self::OldConverter, self::Filter, self::Chorus, self::Phaser, self::Delay, self::Reverb], true);
    }

    /** As it is when it is put in: at work, but for the equalizer, whose bands wait. */
    public function fresh(string $id): InsertSettings
    {
        return match ($this) {
            self::Equalizer => EqualizerSettings::fresh($id),
            self::Compressor => new CompressorSettings($id, true),
            self::Gate => new GateSettings($id),
            self::Limiter => new LimiterSettings($id),
            self::Ducker => new DuckerSettings($id),
            self::Transients => new TransientsSettings($id),
            self::Saturation => new SaturationSettings($id),
            self::Harmonics => new HarmonicsSettings($id),
            self::OldConverter => new OldConverterSettings($id),
            self::Filter => new FilterSettings($id),
            self::Chorus => new ChorusSettings($id),
            self::Phaser => new PhaserSettings($id),
            self::Tremolo => new TremoloSettings($id),
            self::Delay => new DelaySettings($id),
            self::Reverb => new ReverbSettings($id),
            self::Stereo => new StereoSettings($id),
        };
    }
}

<?php

namespace Pestle\Core\Mix;

/** Chains of inserts to start from. */
enum ReadyChain: string
{
    case SmallRoom = 'small-room';
    case Plate = 'plate';
    case Hall = 'hall';
    case Spring = 'spring';
    case DarkWash = 'dark-wash';
    case WarmDrums = 'warm-drums';
    case Crushed = 'crushed';
    case Snap = 'snap';
    case LowEnd = 'low-end';
    case SmallSpeakers = 'small-speakers';
    case Air = 'air';
    case WornSample = 'worn-sample';
    case WideKeys = 'wide-keys';
    case DubEcho = 'dub-echo';

    public function label(): string
    {
        return ucfirst(str_replace('-', ' ', $this->value));
    }

    /** What it is for. */
    public function about(): string
    {
        return match ($this) {
            self::SmallRoom => 'a room of a few steps, for snares and hands',
            self::Plate => 'dense and bright, for voices and snares',
            self::Hall => 'large and late, for chords',
            self::Spring => 'thin and short, for keys and guitars',
            self::DarkWash => 'a cloud behind everything',
            self::WarmDrums => 'overtones and glue for a group of drums',
            self::Crushed => 'for a return: drums pressed flat, to be mixed in',
            self::Snap => 'attacks forward, tails short',
            self::LowEnd => 'lows lifted and cleared, in the middle',
            self::SmallSpeakers => 'a bass that is told without its lows',
            self::Air => 'edge above what is there already',
            self::WornSample => 'few bits, dull, a little movement',
            self::WideKeys => 'doubled to both sides, lows in the middle',
            self::DubEcho => 'dotted echoes that grow dull',
        };
    }

    /** @return list<InsertSettings> all called "i0": where they are put in they get names */
    public function inserts(): array
    {
        $reverb = static fn (float $size, float $decay, float $highs, float $early, float $before, float $cut, float $mix): ReverbSettings => new ReverbSettings('i0', true, $before, $size, $decay, $highs, $early, $cut, 100.0, $mix);

        return match ($this) {
            self::SmallRoom => [$reverb(0.4, 0.5, 60.0, 70.0, 2.0, 200.0, 18.0)],
            self::Plate => [$reverb(0.7, 1.8, 80.0, 10.0, 8.0, 250.0, 20.0)],
            self::Hall => [$reverb(1.7, 3.2, 40.0, 40.0, 25.0, 180.0, 22.0)],
            self::Spring => [$reverb(0.35, 1.4, 35.0, 5.0, 5.0, 500.0, 25.0), new FilterSettings('i0', true, SweptShape::Low, 4500.0, 0.1)],
            self::DarkWash => [$reverb(2.0, 8.0, 15.0, 0.0, 40.0, 150.0, 35.0)],
            self::WarmDrums => [new SaturationSettings('i0', true, SaturationCurve::Tape, 6.0, 16000.0, 60.0), new CompressorSettings('i0', true, -18.0, 2.0, 25.0, 150.0, 1.5)],
            self::Crushed => [new CompressorSettings('i0', true, -36.0, 12.0, 2.0, 90.0, 12.0), new SaturationSettings('i0', true, SaturationCurve::Soft, 12.0)],
            self::Snap => [new TransientsSettings('i0', true, 50.0, -30.0)],
            self::LowEnd => [new EqualizerSettings('i0', [new EqBand(EqShape::HighPass, 28.0, 0.0, 0.71, true), new EqBand(EqShape::LowShelf, 80.0, 3.0, 0.8, true), new EqBand(EqShape::Peak, 260.0, -2.5, 1.0, true), new EqBand(EqShape::HighShelf, 8000.0)]), new StereoSettings('i0', true, 100.0, 120.0)],
            self::SmallSpeakers => [new HarmonicsSettings('i0', true, HarmonicsStyle::Deep, 110.0, 20.0, -10.0)],
            self::Air => [new HarmonicsSettings('i0', true, HarmonicsStyle::Bright, 6000.0, 20.0, -14.0)],
            self::WornSample => [new OldConverterSettings('i0', true, 11.0, 24000.0, 40.0), new FilterSettings('i0', true, SweptShape::Low, 7500.0, 0.05), new ChorusSettings('i0', true, ChorusStyle::Vibrato, NoteLength::Free, 0.7, 8, 12.0)],
            self::WideKeys => [new ChorusSettings('i0', true, ChorusStyle::Chorus, NoteLength::Free, 0.5, 8, 45.0), new StereoSettings('i0', true, 130.0, 150.0)],
            self::DubEcho => [new DelaySettings('i0', true, NoteLength::Dotted, 2, 250.0, 55.0, 250.0, 3200.0, true, 30.0, 6.0)],
        };
    }
}

<?php

namespace Pestle\Core\Sample;

/** What can be done to a sound; the maker's words for it. */
enum EditKind: string
{
    case Keep = 'keep';
    case Cut = 'cut';
    case Silence = 'silence';
    case Repeat = 'repeat';
    case Gain = 'gain';
    case Normalise = 'normalise';
    case FadeIn = 'fade-in';
    case FadeOut = 'fade-out';
    case Reverse = 'reverse';
    case Pitch = 'pitch';
    case Stretch = 'stretch';
    case InTime = 'in-time';
    case Speed = 'speed';
    case Converter = 'converter';
    case Mono = 'mono';
    case Room = 'room';

    public function label(): string
    {
        return match ($this) {
            self::Keep => 'Keep only this',
            self::Cut => 'Cut out',
            self::Silence => 'Silence',
            self::Repeat => 'Repeat',
            self::Gain => 'Gain',
            self::Normalise => 'Normalise',
            self::FadeIn => 'Fade in',
            self::FadeOut => 'Fade out',
            self::Reverse => 'Reverse',
            self::Pitch => 'Pitch, length kept',
            self::Stretch => 'Stretch, pitch kept',
            self::InTime => 'In time with the beat',
            self::Speed => 'Speed, pitch with it',
            self::Converter => 'Old converter',
            self::Mono => 'Mono',
            self::Room => 'Drowned in a room',
        };
    }
}

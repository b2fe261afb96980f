<?php

namespace Pestle\Core\Analysis;

/** What several sounds that were dropped at once are likeliest to be. */
enum Grouping: string
{
    /** Sounds of their own: a pad each. */
    case Free = 'free';
    /** One strike, heard by several microphones at once. */
    case Stack = 'stack';
    /** One thing struck softly and hard. */
    case Strength = 'strength';
    /** One thing struck several times alike. */
    case Turn = 'turn';
}

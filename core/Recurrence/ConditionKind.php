<?php

declare(strict_types=1);

namespace Ypomna\Core\Recurrence;

/** Of what somebody wants to be told. */
enum ConditionKind: string
{
    case Any = 'any';
    case PhraseComes = 'phrase-comes';
    case PhraseGoes = 'phrase-goes';
    case Cell = 'cell';
    case Part = 'part';
    case Vanishing = 'vanishing';
}

<?php

declare(strict_types=1);

namespace Ypomna\App;

/** A message to a worker: its constructor takes what its public properties hold, numbers, texts and truths only. */
interface Queued
{
}

<?php

declare(strict_types=1);

namespace Ypomna\App;

use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Input\InputDefinition;
use Symfony\Component\Console\Input\InputOption;

/** The commands of an installation. They act for the system, or with `--as` for a person: with what they may see, and what they may do. */
final class Commands extends Application
{
    protected function getDefaultInputDefinition(): InputDefinition
    {
        $definition = parent::getDefaultInputDefinition();
        $definition->addOption(
            new InputOption('as', null, InputOption::VALUE_REQUIRED, 'Does it as that person: with what they may see and do'),
        );

        return $definition;
    }
}

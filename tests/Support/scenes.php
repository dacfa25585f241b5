<?php

declare(strict_types=1);

use Ypomna\Tests\Support\AsideScenes;
use Ypomna\Tests\Support\FourthScenes;
use Ypomna\Tests\Support\LateScenes;
use Ypomna\Tests\Support\MoreScenes;
use Ypomna\Tests\Support\OtherScenes;
use Ypomna\Tests\Support\SceneSite;
use Ypomna\Tests\Support\ThirdScenes;

return [new SceneSite(), new MoreScenes(), new AsideScenes(), new LateScenes(), new OtherScenes(), new ThirdScenes(), new FourthScenes()];

import { chromium } from '@playwright/test';
